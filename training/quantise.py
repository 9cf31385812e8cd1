"""
Gives a trained network eight-bit weights and features: python3 quantise.py NAME [--minutes M]. The network goes on learning with its
rounding in place (quantisation-aware training, Jacob et al., 2018; steps of the features learned, Esser et al., 2020), and is written to
models/ as ONNX with pairs of QuantizeLinear and DequantizeLinear, which the runtime works in whole numbers. The first layers at full size and
the last stay as they are: what comes in and goes out is finer than eight bits (rounding the first blocks costs nine tenths of the loss).
"""

import argparse
import os
import time

import numpy as np
import onnx
import torch
from onnx import TensorProto, helper, numpy_helper
from torch import nn
from torch.nn import functional as F

from export import MODELS, describe, sources_used, told
from networks import Trunk
from sources import collect, work_folder
from tasks import TASKS
from train import Echoed, Smoothed, card_of, configuration, evaluate, learn, rate_at
from weights import weights_of

# Weights are held to seven bits: processors without the newest instructions add two products of eight bits in sixteen, which would run
# over, and results would differ from machine to machine.
WEIGHT_LIMIT = 63
# Zero of the features among 0 to 255; behind a leaky rectifier, which leaves a tenth of what is negative.
MIDDLE, RECTIFIED = 128, 23
# Blocks that are not rounded unless a configuration says otherwise; with "one_again" nothing at full size is.
EXACT = ("one",)
# Share of a calibration's values that a step is chosen to hold.
HELD = 0.9999


def rounded(x):
    """Rounds; the gradient passes straight through (Bengio et al., 2013)."""
    return x + (torch.round(x) - x).detach()


class Step(nn.Module):
    """Rounds features to 256 levels with a learned step, `zero` of them below nothing."""

    def __init__(self, zero=MIDDLE):
        super().__init__()
        self.zero = zero
        self.log = nn.Parameter(torch.zeros(()))
        self.seen = None

    def forward(self, x):
        if self.seen is not None:
            flat = x.detach().abs().flatten()
            self.seen.append(float(torch.quantile(flat[:: max(1, len(flat) // 200_000)], HELD)))
            return x
        step = torch.exp(self.log)
        # The step's gradient is made as small as a weight's (Esser et al., 2020).
        step = step * (g := (x[0].numel() * 255) ** -0.5) + (step * (1 - g)).detach()
        return (rounded(torch.clamp(x / step + self.zero, 0, 255)) - self.zero) * step

    def begin(self):
        self.seen = []

    def settle(self):
        self.log.data.fill_(float(np.log(max(1e-6, np.median(self.seen)) / (255 - self.zero if self.zero != MIDDLE else 127))))
        self.seen = None


def rounded_weights(weight):
    """A convolution's weights in whole steps of their output channel, and the steps."""
    step = weight.detach().abs().amax((1, 2, 3)).clamp_min(1e-8) / WEIGHT_LIMIT
    return rounded(weight / step[:, None, None, None]), step


class Rounded(nn.Module):
    """A Trunk whose inner layers are rounded; it holds the same weights under the same names."""

    def __init__(self, trunk, exact=EXACT):
        super().__init__()
        self.trunk, self.exact = trunk, exact
        self.steps = nn.ModuleDict()

    def step(self, name, zero=MIDDLE):
        if name not in self.steps:
            self.steps[name] = Step(zero)
        return self.steps[name]

    def conv(self, layer, x):
        whole, step = rounded_weights(layer.weight)
        return F.conv2d(x, whole * step[:, None, None, None], layer.bias, layer.stride, layer.padding)

    def blocks(self, name, x):
        if name in self.exact:
            return getattr(self.trunk, name)(x)
        for n, block in enumerate(getattr(self.trunk, name)):
            inner = self.step(f"{name}_{n}_conv")(self.conv(block.conv, x))
            x = self.step(f"{name}_{n}_sum")(x + self.step(f"{name}_{n}_leaky", RECTIFIED)(F.leaky_relu(inner, 0.1)))
        return x

    def joined(self, name, skip, x, exact=False):
        up = self.conv(getattr(self.trunk, name), x)
        if exact:
            return skip + F.pixel_shuffle(up, 2)
        return self.step(f"{name}_sum")(skip + F.pixel_shuffle(self.step(name)(up), 2))

    def forward(self, x):
        t = self.trunk
        exact = self.blocks("one", F.leaky_relu(t.head(x), 0.1))
        one = self.step("one_out")(exact)
        two = self.blocks("two", self.step("down1")(self.conv(t.down1, one)))
        three = self.blocks("three", self.step("down2")(self.conv(t.down2, two)))
        two = self.blocks("two_again", self.joined("up2", two, three))
        ends = "one_again" in self.exact
        return t.tail(self.blocks("one_again", self.joined("up1", exact if ends else one, two, ends)))

    def calibrate(self, run):
        """Steps that hold what `run()` sends through."""
        with torch.no_grad():
            run()
            for step in self.steps.values():
                step.begin()
            run()
        for step in self.steps.values():
            step.settle()


# Where the features of each scale pass: the blocks that share them, and the layers that lead in and out of them.
SCALES = [
    {"blocks": ("one", "one_again"), "into": ("head", "up1"), "out": ("down1", "tail")},
    {"blocks": ("two", "two_again"), "into": ("down1", "up2"), "out": ("down2", "up1")},
    {"blocks": ("three",), "into": ("down2",), "out": ("up2",)},
]


def ranges(trunk, run):
    """The largest value each convolution within a block gives, channel by channel, over what `run()` sends through; by block."""
    seen = {}
    hooks = []
    for name in ("one", "one_again", "two", "two_again", "three"):
        for block in getattr(trunk, name):
            def keep(_, __, out, name=name):
                flat = out.detach().abs().transpose(0, 1).flatten(1)[:, ::7]
                seen.setdefault(name, []).append(torch.quantile(flat, HELD, dim=1))
            hooks.append(block.conv.register_forward_hook(keep))
    with torch.no_grad():
        run()
    for hook in hooks:
        hook.remove()
    return {name: torch.stack(rows).amax(0) for name, rows in seen.items()}


def equalise(trunk, run):
    """
    Scales each channel so that all use the same range (cross-layer equalisation, Nagel et al., 2019): a leaky rectifier lets a factor
    through, so the network answers the same.
    """
    seen = ranges(trunk, run)
    with torch.no_grad():
        for scale in SCALES:
            most = torch.stack([seen[name] for name in scale["blocks"]]).amax(0).clamp_min(1e-4)
            factor = most / most.max()
            convs = [block.conv for name in scale["blocks"] for block in getattr(trunk, name)]
            for layer in [getattr(trunk, name) for name in scale["into"]] + convs:
                # A layer whose answer is unfolded to twice the size has four channels for one.
                own = factor.repeat_interleave(layer.out_channels // len(factor))
                layer.weight.div_(own[:, None, None, None])
                layer.bias.div_(own)
            for layer in [getattr(trunk, name) for name in scale["out"]] + convs:
                layer.weight.mul_(factor[None, :, None, None])


class Graph:
    """The rounded network as ONNX, node by node."""

    def __init__(self, network):
        self.network, self.nodes, self.constants, self.count = network, [], {}, 0

    def constant(self, name, value):
        self.constants[name] = numpy_helper.from_array(value, name)
        return name

    def node(self, kind, inputs, **attributes):
        self.count += 1
        out = f"{kind.lower()}_{self.count}"
        self.nodes.append(helper.make_node(kind, inputs, [out], **attributes))
        return out

    def step_of(self, name):
        step = self.network.steps[name]
        return float(np.exp(step.log.item())), step.zero

    def step(self, name, x):
        size, zero = self.step_of(name)
        told = [self.constant(f"{name}.step", np.float32(size)), self.constant(f"{name}.zero", np.uint8(zero))]
        return self.node("DequantizeLinear", [self.node("QuantizeLinear", [x, *told]), *told])

    def conv(self, name, layer, x, entering=None):
        """A convolution; with the step of what enters it, in whole numbers."""
        shape = dict(kernel_shape=layer.kernel_size, strides=layer.stride, pads=[p for p in layer.padding] * 2)
        bias = layer.bias.detach().numpy()
        if entering is None:
            return self.node("Conv", [x, self.constant(f"{name}.weight", layer.weight.detach().numpy()), self.constant(f"{name}.bias", bias)], **shape)
        whole, step = rounded_weights(layer.weight)
        step = step.numpy()
        fine = (step * np.float32(self.step_of(entering)[0])).astype(np.float32)
        weight = self.whole(f"{name}.weight", whole.detach().numpy().astype(np.int8), step)
        return self.node("Conv", [x, weight, self.whole(f"{name}.bias", np.round(bias / fine).astype(np.int32), fine)], **shape)

    def whole(self, name, values, steps):
        zeros = np.zeros(len(steps), values.dtype)
        return self.node("DequantizeLinear", [self.constant(f"{name}.whole", values), self.constant(f"{name}.step", steps), self.constant(f"{name}.zeros", zeros)], axis=0)

    def exact(self, name, x):
        for n, block in enumerate(getattr(self.network.trunk, name)):
            inner = self.conv(f"{name}.{n}.conv", block.conv, x)
            x = self.node("Add", [x, self.node("LeakyRelu", [inner], alpha=0.1)])
        return x

    def blocks(self, name, x, entering):
        if name in self.network.exact:
            return self.exact(name, x), None
        for n, block in enumerate(getattr(self.network.trunk, name)):
            at = f"{name}_{n}"
            inner = self.step(f"{at}_conv", self.conv(f"{name}.{n}.conv", block.conv, x, entering))
            leaky = self.step(f"{at}_leaky", self.node("LeakyRelu", [inner], alpha=0.1))
            x, entering = self.step(f"{at}_sum", self.node("Add", [x, leaky])), f"{at}_sum"
        return x, entering

    def plain(self, name, x, entering):
        return self.step(name, self.conv(name, getattr(self.network.trunk, name), x, entering))

    def joined(self, name, skip, x, entering, exact=False):
        if exact:
            up = self.node("DepthToSpace", [self.conv(name, getattr(self.network.trunk, name), x, entering)], blocksize=2, mode="CRD")
            return self.node("Add", [skip, up]), None
        up = self.step(name, self.node("DepthToSpace", [self.plain(name, x, entering)], blocksize=2, mode="CRD"))
        return self.step(f"{name}_sum", self.node("Add", [skip, up])), f"{name}_sum"

    def model(self, inputs, answers):
        t = self.network.trunk
        exact, _ = self.blocks("one", self.node("LeakyRelu", [self.conv("head", t.head, "planes")], alpha=0.1), None)
        one = self.step("one_out", exact)
        two, last = self.blocks("two", self.plain("down1", one, "one_out"), "down1")
        three, last = self.blocks("three", self.plain("down2", two, last), "down2")
        two, last = self.blocks("two_again", *self.joined("up2", two, three, last))
        ends = "one_again" in self.network.exact
        out, _ = self.blocks("one_again", *self.joined("up1", exact if ends else one, two, last, ends))
        self.nodes.append(helper.make_node("Identity", [self.conv("tail", t.tail, out)], ["correction"]))
        value = lambda name, channels: helper.make_tensor_value_info(name, TensorProto.FLOAT, ["n", channels, "h", "w"])
        graph = helper.make_graph(self.nodes, "rounded", [value("planes", inputs)], [value("correction", answers)], list(self.constants.values()))
        made = helper.make_model(graph, opset_imports=[helper.make_opsetid("", 13)], ir_version=8)
        onnx.checker.check_model(made)
        return made


def trained(task, name):
    """The network as it was trained, and what its card says of that: from its checkpoint, else from models/."""
    checkpoint = os.path.join(work_folder(), f"{name}.pt")
    trunk = task.network()
    if not os.path.exists(checkpoint):
        trunk.load_state_dict(weights_of(name))
        return trunk, {key: card_of(name)[key] for key in ("steps", "pictures")}
    kept = torch.load(checkpoint)
    trunk.load_state_dict(kept["smoothed"])
    return trunk, {"steps": kept["step"] + kept.get("before", 0), "pictures": sources_used(kept["former"])}


def quantise(name, minutes):
    config = configuration(name)
    task = TASKS[config["task"]](config)
    torch.manual_seed(config["seed"])
    torch.set_num_threads(config.get("threads", 1))
    collect()
    trunk, known = trained(task, name)
    judged = task.samples("held", 5)
    batches = [task.batch(judged, 16) for _ in range(config.get("judged", 12))]
    before = evaluate(task, trunk, batches)
    print("as trained", before, flush=True)
    samples = Echoed(task.samples("train", config["seed"] + 77), config["seed"])
    calibration = [task.batch(samples, config["batch"]) for _ in range(6)]
    equalise(trunk, lambda: [task.run(trunk, batch) for batch in calibration])
    network = Rounded(trunk, tuple(config.get("exact", EXACT))).to(memory_format=torch.channels_last)
    network.calibrate(lambda: [task.run(network, batch) for batch in calibration])
    print("rounded", evaluate(task, network, batches), flush=True)
    learned = [{"params": network.trunk.parameters(), "base": config["rate"] / 4}, {"params": network.steps.parameters(), "base": config["rate"] / 4}]
    optimiser = torch.optim.Adam(learned, betas=(0.9, 0.99))
    smoothed = Smoothed(network)
    start = last = time.time()
    step = 0
    while (share := (time.time() - start) / (60 * minutes)) < 1:
        for group in optimiser.param_groups:
            group["lr"] = rate_at({"rate": group["base"]}, step, share)
        loss = learn(task, network, optimiser, samples, config)
        smoothed.update(network, step)
        step += 1
        if time.time() - last > 240:
            last = time.time()
            print(step, loss, f"{(last - start) / 60:.0f} min", flush=True)
    network.load_state_dict(smoothed.state)
    after = evaluate(task, network, batches)
    print("after", step, "steps", after, flush=True)
    os.makedirs(MODELS, exist_ok=True)
    onnx.save(Graph(network.eval()).model(task.inputs, trunk.tail.out_channels), os.path.join(MODELS, f"{name}.onnx"))
    describe(name, network, task, config, {**known, "eightBit": {"steps": step, "before": told(before)}, "heldOut": told(after)})


if __name__ == "__main__":
    reader = argparse.ArgumentParser()
    reader.add_argument("name")
    reader.add_argument("--minutes", type=float, default=20)
    given = reader.parse_args()
    quantise(given.name, given.minutes)
