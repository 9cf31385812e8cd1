"""
Trains one network: python3 train.py NAME [--minutes M]. Reads configs/NAME.json, continues from its checkpoint when
there is one, writes the checkpoint every few minutes, and the state that did best on held-out samples beside it.
"""

import argparse
import glob
import json
import os
import time

import numpy as np
import onnx
import torch
from onnx import numpy_helper

from sources import collect, work_folder
from tasks import TASKS

HERE = os.path.dirname(os.path.abspath(__file__))


def configuration(name):
    with open(os.path.join(HERE, "configs", f"{name}.json")) as file:
        return json.load(file)


def rate_at(config, step):
    """Warm-up, then a cosine down to a hundredth over the configured steps, and that small rate from then on."""
    warm = min(1, (step + 1) / 200)
    share = min(1, step / config["steps"])
    return config["rate"] * warm * (0.01 + 0.99 * 0.5 * (1 + np.cos(np.pi * share)))


class Smoothed:
    """Running mean of the weights (Polyak averaging): better than the last state at any moment."""

    def __init__(self, network):
        self.state = {k: v.detach().clone() for k, v in network.state_dict().items()}

    def update(self, network, step):
        keep = min(0.998, (1 + step) / (10 + step))
        with torch.no_grad():
            for key, value in network.state_dict().items():
                self.state[key].mul_(keep).add_(value, alpha=1 - keep)


def weights_of(name):
    """The weights in the models folder, of all files of that name (an enlarger has two); None where there are none."""
    found = {}
    for path in glob.glob(os.path.join(HERE, "..", "models", f"{name}.onnx")) + sorted(glob.glob(os.path.join(HERE, "..", "models", f"{name}-?x.onnx"))):
        for value in onnx.load(path).graph.initializer:
            # An enlarger's files name their parts from outside: network.one..., tail...
            key = value.name.removeprefix("network.")
            if key.startswith("tail.") and path.endswith("-4x.onnx"):
                key = key.replace("tail.", "tail4.")
            found[key] = torch.from_numpy(numpy_helper.to_array(value).copy())
    return found or None


def steps_of(name):
    """Steps on the card in the models folder, 0 where there is none."""
    cards = glob.glob(os.path.join(HERE, "..", "models", f"{name}.json")) + glob.glob(os.path.join(HERE, "..", "models", f"{name}-2x.json"))
    if not cards:
        return 0
    with open(cards[0]) as file:
        return json.load(file)["steps"]


def evaluate(task, network, batches):
    network.eval()
    with torch.no_grad():
        rows = [task.score(task.run(network, b), b) for b in batches]
    network.train()
    return {key: float(np.nanmean([r[key] for r in rows])) for key in rows[0]}


def save(path, content):
    torch.save(content, path + ".new")
    os.replace(path + ".new", path)


def train(name, minutes):
    config = configuration(name)
    task = TASKS[config["task"]](config)
    torch.manual_seed(config["seed"])
    torch.set_num_threads(config.get("threads", 1))
    collect()
    network = task.network().to(memory_format=torch.channels_last)
    smoothed = Smoothed(network)
    optimiser = torch.optim.Adam(network.parameters(), lr=config["rate"], betas=(0.9, 0.99))
    checkpoint = os.path.join(work_folder(), f"{name}.pt")
    # Steps of earlier trainings whose weights this one starts from.
    step, history, before = 0, [], 0
    if os.path.exists(checkpoint):
        kept = torch.load(checkpoint)
        network.load_state_dict(kept["network"])
        smoothed.state = kept["smoothed"]
        optimiser.load_state_dict(kept["optimiser"])
        step, history, before = kept["step"], kept["history"], kept.get("before", 0)
    else:
        known = weights_of(name) or weights_of(config.get("from"))
        if known:
            network.load_state_dict(known)
            smoothed = Smoothed(network)
            before = steps_of(name)
    samples = task.samples("train", config["seed"] + 1000 * step)
    judged = task.samples("held", 5)
    batches = [task.batch(judged, 16) for _ in range(config.get("judged", 12))]
    trial = task.network()
    start = last = time.time()
    losses = []
    while time.time() - start < minutes * 60 and step < config["steps"]:
        for group in optimiser.param_groups:
            group["lr"] = rate_at(config, step)
        batch = task.batch(samples, config["batch"])
        loss = task.loss(task.run(network, batch), batch)
        optimiser.zero_grad(set_to_none=True)
        loss.backward()
        torch.nn.utils.clip_grad_norm_(network.parameters(), 0.5)
        optimiser.step()
        smoothed.update(network, step)
        step += 1
        losses.append(float(loss))
        if time.time() - last > 240 or step == config["steps"]:
            last = time.time()
            trial.load_state_dict(smoothed.state)
            row = {"step": step, "loss": float(np.mean(losses)), **evaluate(task, trial, batches)}
            history.append(row)
            losses = []
            print(" ".join(f"{k} {v:.4g}" for k, v in row.items()), f"{(time.time() - start) / 60:.0f} min", flush=True)
            save(checkpoint, {"network": network.state_dict(), "smoothed": smoothed.state, "optimiser": optimiser.state_dict(),
                              "step": step, "history": history, "before": before})
    trial.load_state_dict(smoothed.state)
    history.append({"step": step, **evaluate(task, trial, batches)})
    save(checkpoint, {"network": network.state_dict(), "smoothed": smoothed.state, "optimiser": optimiser.state_dict(),
                      "step": step, "history": history, "before": before})


if __name__ == "__main__":
    reader = argparse.ArgumentParser()
    reader.add_argument("name")
    reader.add_argument("--minutes", type=float, default=60)
    given = reader.parse_args()
    train(given.name, given.minutes)
