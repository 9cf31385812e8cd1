"""
Trains one network: python3 train.py NAME [--minutes M] [--anew]. Reads configs/NAME.json, continues from its checkpoint when
there is one, or from the weights in models/ unless it is to begin anew, and writes the checkpoint every few minutes.
"""

import argparse
import json
import os
import time

import numpy as np
import torch

from sources import FORMER, collect, work_folder
from tasks import TASKS
from weights import weights_of

HERE = os.path.dirname(os.path.abspath(__file__))


def configuration(name):
    with open(os.path.join(HERE, "configs", f"{name}.json")) as file:
        return json.load(file)


def rate_at(config, step, share):
    """Warm-up, then a cosine down to a hundredth; `share` of the training that is done."""
    warm = min(1, (step + 1) / 200)
    return config["rate"] * warm * (0.01 + 0.99 * 0.5 * (1 + np.cos(np.pi * min(1, share))))


# Share of samples shown again because they were misjudged, and how many wait for that at most.
AGAIN, WAITING = 0.2, 256


class Echoed:
    """
    Shows every sample about twice, the second time in other company: making one costs half as much as learning from it. What was misjudged comes
    again until it is not (Shrivastava et al., 2016).
    """

    def __init__(self, samples, seed, kept=384):
        self.samples, self.kept, self.store = samples, kept, []
        self.random = np.random.default_rng(seed)
        # The samples of the batch at hand, and those that were misjudged.
        self.given, self.misjudged = [], []

    def one(self):
        self.given.append(self.chosen())
        return self.given[-1]

    def chosen(self):
        if self.misjudged and self.random.random() < AGAIN:
            return self.misjudged.pop(int(self.random.integers(len(self.misjudged))))
        if len(self.store) >= self.kept and self.random.random() < 0.5:
            return self.store.pop(int(self.random.integers(len(self.store))))
        sample = self.samples.one()
        self.store.append(sample)
        if len(self.store) > 2 * self.kept:
            self.store.pop(0)
        return sample

    def judged(self, wrong):
        """Which samples since the last call were misjudged; the oldest of those that wait are forgotten."""
        self.misjudged += [sample for sample, bad in zip(self.given, wrong) if bad]
        self.misjudged = self.misjudged[-WAITING:]
        self.given = []


class Smoothed:
    """Running mean of the weights (Polyak averaging): better than the last state at any moment."""

    def __init__(self, network):
        self.state = {k: v.detach().clone() for k, v in network.state_dict().items()}

    def update(self, network, step):
        keep = min(0.999, (1 + step) / (10 + step))
        with torch.no_grad():
            for key, value in network.state_dict().items():
                self.state[key].mul_(keep).add_(value, alpha=1 - keep)


def grown(state, network):
    """
    The network's weights begun from those of a smaller one, so that it answers the same: inputs and channels that it has
    gained weigh nothing at first for those it had, blocks it has gained add nothing (after Net2Net, Chen et al., 2016). Of one
    with more blocks, those it has. None where a layer is missing or was larger; training starts anew then.
    """
    own = network.state_dict()
    begun = {}
    for key, fresh in own.items():
        old = state.get(key)
        if old is None and ".conv." in key:
            begun[key] = torch.zeros_like(fresh)
        elif old is None or any(a > b for a, b in zip(old.shape, fresh.shape)):
            return None
        else:
            begun[key] = fresh.clone()
            begun[key][:len(old)] = 0
            begun[key][tuple(slice(n) for n in old.shape)] = old
    return begun


def card_of(name):
    """The card in the models folder, empty where there is none."""
    card = os.path.join(HERE, "..", "models", f"{name}.json")
    if not os.path.exists(card):
        return {}
    with open(card) as file:
        return json.load(file)


def steps_of(name):
    """Steps on the card, 0 where there is none."""
    return card_of(name).get("steps", 0)


def groups_of(network, slow):
    """Weights by how fast they learn: those of the parts named in `slow` at that share of the rate, the rest at all of it."""
    pace = lambda name: next((share for part, share in slow.items() if name.startswith(part + ".")), 1)
    named = [(pace(name), value) for name, value in network.named_parameters()]
    return [{"params": [value for p, value in named if p == share], "pace": share} for share in sorted({p for p, _ in named})]


def evaluate(task, network, batches):
    network.eval()
    with torch.no_grad():
        rows = [task.score(task.run(network, b), b) for b in batches]
    network.train()
    # A batch may have nothing to judge of one kind.
    return {key: float(np.mean([r[key] for r in rows if key in r])) for key in dict.fromkeys(key for r in rows for key in r)}


def held_batches(task, config):
    """What a network is judged on while it learns and when it is exported."""
    judged = task.samples("held", 5)
    return [task.batch(judged, 16) for _ in range(config.get("judged", 12))]


def learn(task, network, optimiser, samples, config):
    """One step on a batch of echoed samples; returns its loss."""
    batch = task.batch(samples, config["batch"])
    result = task.run(network, batch)
    loss = task.loss(result, batch)
    optimiser.zero_grad(set_to_none=True)
    loss.backward()
    torch.nn.utils.clip_grad_norm_(network.parameters(), config["clip"])
    optimiser.step()
    samples.judged(task.misjudged(result.detach(), batch) if hasattr(task, "misjudged") else [])
    return float(loss)


def save(path, content):
    torch.save(content, path + ".new")
    os.replace(path + ".new", path)


def train(name, minutes, anew=False):
    config = configuration(name)
    task = TASKS[config["task"]](config)
    torch.manual_seed(config["seed"])
    torch.set_num_threads(config.get("threads", 1))
    collect()
    network = task.network().to(memory_format=torch.channels_last)
    smoothed = Smoothed(network)
    # Weights that few pictures teach are drawn towards nought (Loshchilov and Hutter, 2019).
    optimiser = torch.optim.AdamW(groups_of(network, config.get("slow", {})), lr=config["rate"], betas=(0.9, 0.99), weight_decay=config.get("decay", 0))
    checkpoint = os.path.join(work_folder(), f"{name}.pt")
    # Steps of earlier trainings whose weights this one starts from.
    step, history, before = 0, [], 0
    # Packages not taken any more that the weights it starts from may have seen.
    former = {}
    if os.path.exists(checkpoint):
        kept = torch.load(checkpoint)
        network.load_state_dict(kept["network"])
        smoothed.state = kept["smoothed"]
        optimiser.load_state_dict(kept["optimiser"])
        for group in optimiser.param_groups:
            group["weight_decay"] = config.get("decay", 0)
        step, history, before = kept["step"], kept["history"], kept.get("before", 0)
        former = kept["former"]
    else:
        origin = name
        known = None if anew else weights_of(name)
        if known is None and "from" in config:
            origin = config["from"]
            known = task.adopted(weights_of(origin))
        known = known and grown(known, network)
        if known:
            network.load_state_dict(known)
            smoothed = Smoothed(network)
            before = steps_of(name)
            former = {package: told for package, told in card_of(origin).get("pictures", {}).items() if package in FORMER}
        elif hasattr(network, "begun"):
            network.load_state_dict(network.begun())
            smoothed = Smoothed(network)
    samples = Echoed(task.samples("train", config["seed"] + 1000 * step), config["seed"])
    batches = held_batches(task, config)
    trial = task.network()
    start = last = time.time()
    losses = []
    first = step
    while time.time() - start < minutes * 60 and step < config["steps"]:
        # Whichever ends it first, the steps or the time, finds the rate run down.
        share = max(step / config["steps"], (step > first) * (time.time() - start) / (minutes * 60))
        for group in optimiser.param_groups:
            group["lr"] = group["pace"] * rate_at(config, step, share)
        loss = learn(task, network, optimiser, samples, config)
        smoothed.update(network, step)
        step += 1
        losses.append(loss)
        if time.time() - last > 240 or step == config["steps"]:
            last = time.time()
            trial.load_state_dict(smoothed.state)
            row = {"step": step, "loss": float(np.mean(losses)), **evaluate(task, trial, batches)}
            history.append(row)
            losses = []
            print(" ".join(f"{k} {v:.4g}" for k, v in row.items()), f"{(time.time() - start) / 60:.0f} min", flush=True)
            save(checkpoint, {"network": network.state_dict(), "smoothed": smoothed.state, "optimiser": optimiser.state_dict(),
                              "step": step, "history": history, "before": before, "former": former})
    trial.load_state_dict(smoothed.state)
    history.append({"step": step, **evaluate(task, trial, batches)})
    save(checkpoint, {"network": network.state_dict(), "smoothed": smoothed.state, "optimiser": optimiser.state_dict(),
                      "step": step, "history": history, "before": before, "former": former})


if __name__ == "__main__":
    reader = argparse.ArgumentParser()
    reader.add_argument("name")
    reader.add_argument("--minutes", type=float, default=60)
    reader.add_argument("--anew", action="store_true", help="begin without the weights in models/")
    given = reader.parse_args()
    train(given.name, given.minutes, given.anew)
