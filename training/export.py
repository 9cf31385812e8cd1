"""
Writes a network as ONNX with its card: python3 export.py NAME. models/NAME.onnx holds the smoothed weights of the
checkpoint; models/NAME.json says what it is, how it was trained, how it did on held-out samples, and the file's SHA-256.
"""

import hashlib
import json
import os
import sys

import onnx
import torch

from packing import pack, rounded
from sources import PACKAGES, work_folder
from tasks import TASKS
from train import configuration
from weights import MODELS, weights_of


def operations(network, inputs):
    """Multiplications and additions for one position of the folded planes."""
    total, side = [0], 32
    count = lambda m, _, out: total.__setitem__(0, total[0] + 2 * out.numel() * m.in_channels * m.kernel_size[0] * m.kernel_size[1])
    hooks = [m.register_forward_hook(count) for m in network.modules() if isinstance(m, torch.nn.Conv2d)]
    with torch.no_grad():
        network(torch.zeros(1, inputs, side, side))
    for hook in hooks:
        hook.remove()
    return round(total[0] / side ** 2)


def keep_example(network, inputs, name):
    """An input and its answer, for the check that the program computes the same (parity.ts)."""
    x = torch.rand(1, inputs, 24, 40, generator=torch.Generator().manual_seed(5))
    with torch.no_grad():
        y = network(x)
    with open(os.path.join(work_folder(), f"{name}.example"), "wb") as out:
        out.write(x.numpy().tobytes() + y.numpy().tobytes())


def write(network, inputs, name, places=(2, 3)):
    """ONNX with named weights, (n, inputs, h, w) to (n, answers, h, w), h and w multiples of 4, any size; `places` are the axes of h and w in the answer."""
    path = os.path.join(MODELS, f"{name}.onnx")
    axes = {0: "n", 2: "h", 3: "w"}
    answered = {0: "n", places[0]: "h", places[1]: "w"}
    torch.onnx.export(network.eval(), torch.zeros(1, inputs, 16, 16), path, opset_version=13, input_names=["planes"],
                      output_names=["correction"], dynamic_axes={"planes": axes, "correction": answered})
    onnx.checker.check_model(path)


def describe(name, network, task, config, card):
    """Writes the card of a network whose file lies in models/ already, and keeps an example of what it answers."""
    with open(os.path.join(MODELS, f"{name}.onnx"), "rb") as file:
        data = file.read()
    if len(data) >= 4_000_000:
        raise SystemExit(f"{name}.onnx has {len(data)} bytes: too many")
    keep_example(network, task.inputs, name)
    plain = task.network().eval()
    card = {"name": name, "inputs": task.inputs, "operations": operations(plain, task.inputs), "sha256": hashlib.sha256(data).hexdigest(),
            "bytes": len(data), "task": config["task"], "config": config, "weights": sum(value.numel() for value in weights_of(name).values()), **card}
    with open(os.path.join(MODELS, f"{name}.json"), "w") as out:
        json.dump(card, out, indent=2)
        out.write("\n")
    print(name, len(data), "bytes")


def told(rows):
    """Figures as the card has them."""
    return {key: round(value, 3) for key, value in rows.items() if key not in ("step", "loss")}


def sources_used(former):
    """Packages the training pictures came from, how many of each, and their licences; `former` are those of the weights it began with."""
    counts = {}
    with open(os.path.join(work_folder(), "pictures.csv")) as rows:
        for row in rows:
            _, _, part, package, _ = row.split("\t")
            if part == "train":
                counts[package] = counts.get(package, 0) + 1
    return {**{package: {"pictures": count, "licence": PACKAGES[package]} for package, count in counts.items()}, **former}


def export(name):
    config = configuration(name)
    task = TASKS[config["task"]](config)
    kept = torch.load(os.path.join(work_folder(), f"{name}.pt"))
    network = task.network()
    network.load_state_dict(kept["smoothed"])
    network.eval()
    if hasattr(task, "finished"):
        # Not a module round it: weights keep their names.
        network.register_forward_hook(lambda module, given, made: task.finished(made))
    os.makedirs(MODELS, exist_ok=True)
    if config.get("packed"):
        rounded(network)
    write(network, task.inputs, name, getattr(task, "places", (2, 3)))
    if config.get("packed"):
        pack(os.path.join(MODELS, f"{name}.onnx"))
    pictures = {**sources_used(kept["former"]), **getattr(task, "more_sources", dict)()}
    describe(name, network, task, config, {"steps": kept["step"] + kept.get("before", 0), "heldOut": told(kept["history"][-1]), "pictures": pictures})


if __name__ == "__main__":
    for each in sys.argv[1:]:
        export(each)
