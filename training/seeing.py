"""
A network that has learned to see: MobileNetV3 (Howard et al., 2019) as it comes in a package's finder of things, taken for what it knows of
what is in a picture.
"""

import json
import os

import numpy as np
import torch
from torch import nn
from torch.nn import functional as F

from networks import Block, unfold

HUMAN = os.path.join(os.path.dirname(os.path.dirname(os.path.abspath(__file__))), "node_modules", "@vladmandic", "human", "models")
# Of each stage: kernel, channels widened to (0: as they are), channels out, stride, attention to channels, hard swish.
STAGES = [
    (3, 0, 16, 1, 0, False),
    (3, 64, 24, 2, 0, False), (3, 72, 24, 1, 0, False),
    (5, 72, 32, 2, 24, False), (5, 96, 32, 1, 24, False), (5, 96, 32, 1, 24, False),
    (3, 192, 64, 2, 0, True), (3, 160, 64, 1, 0, True), (3, 144, 64, 1, 0, True), (3, 144, 64, 1, 0, True),
    (3, 384, 88, 1, 96, True), (3, 528, 88, 1, 136, True),
    (5, 528, 120, 2, 136, True), (5, 720, 120, 1, 184, True), (5, 720, 120, 1, 184, True),
]
FIRST = 16
# Stages after which what is seen is handed on, and its channels: at a half, a quarter, an eighth, a sixteenth and a thirty-second of the size.
HANDED_ON = {0: 16, 2: 24, 5: 32, 11: 88, 14: 120}


def hard_swish(x):
    return x * F.relu6(x + 3) / 6


def padded(x, kernel, stride):
    """Borders as the weights were taught with: at a stride of 2 of an even side, one sample fewer above and at the left."""
    all_of_it = kernel - stride if stride > 1 else kernel - 1
    before = all_of_it // 2
    return F.pad(x, (before, all_of_it - before, before, all_of_it - before))


class Stage(nn.Module):
    """Channels widened, filtered one by one, weighed by what is seen in the whole, and narrowed."""

    def __init__(self, cin, kernel, wide, cout, stride, squeezed, swish):
        super().__init__()
        inner = wide or cin
        self.kernel, self.stride, self.adds = kernel, stride, stride == 1 and cin == cout
        self.active = hard_swish if swish else F.relu
        if wide:
            self.expand = nn.Conv2d(cin, wide, 1)
        self.depthwise = nn.Conv2d(inner, inner, kernel, stride=stride, groups=inner)
        if squeezed:
            self.squeeze = nn.Conv2d(inner, squeezed, 1)
            self.excite = nn.Conv2d(squeezed, inner, 1)
        self.project = nn.Conv2d(inner, cout, 1)

    def forward(self, x):
        h = self.active(self.expand(x)) if hasattr(self, "expand") else x
        h = self.active(self.depthwise(padded(h, self.kernel, self.stride)))
        if hasattr(self, "squeeze"):
            h = h * F.relu6(self.excite(F.relu(self.squeeze(h.mean((2, 3), keepdim=True)))) + 3) / 6
        h = self.project(h)
        return h + x if self.adds else h


class Seeing(nn.Module):
    """Luma (n, 1, h, w) over 1, sides multiples of 32, to what is seen at five sizes, channels as in HANDED_ON."""

    def __init__(self):
        super().__init__()
        self.first = nn.Conv2d(3, FIRST, 3, stride=2)
        before, stages = FIRST, []
        for kernel, wide, out, stride, squeezed, swish in STAGES:
            stages.append(Stage(before, kernel, wide, out, stride, squeezed, swish))
            before = out
        self.stages = nn.ModuleList(stages)

    def forward(self, luma):
        h = hard_swish(self.first(padded((255 * luma).expand(-1, 3, -1, -1), 3, 2)))
        seen = []
        for n, stage in enumerate(self.stages):
            h = stage(h)
            if n in HANDED_ON:
                seen.append(h)
        return seen


def weights_of_package(folder=HUMAN):
    """State of `Seeing` from the package's finder of things (weights of 16 bits, one file)."""
    with open(os.path.join(folder, "centernet.json")) as file:
        manifest = json.load(file)["weightsManifest"][0]["weights"]
    data = open(os.path.join(folder, "centernet.bin"), "rb").read()
    values, at = {}, 0
    for entry in manifest:
        kind = np.float16 if "quantization" in entry else np.dtype(entry["dtype"])
        count = int(np.prod(entry["shape"]))
        values[entry["name"]] = np.frombuffer(data, kind, count, at).reshape(entry["shape"]).astype(np.float32)
        at += count * np.dtype(kind).itemsize
    root, state = "MobilenetV3/", {}

    def put(key, weight, bias, depthwise=False):
        kernel = values[weight]
        state[f"{key}.weight"] = torch.tensor(kernel.transpose(2, 3, 0, 1) if depthwise else kernel.transpose(3, 2, 0, 1))
        state[f"{key}.bias"] = torch.tensor(values[bias])

    put("first", f"tower_0/{root}Conv/Conv2D_weights", f"tower_0/{root}Conv/Conv2D_bn_offset")
    for n, (_, wide, _, _, squeezed, _) in enumerate(STAGES):
        name = f"{root}expanded_conv" + (f"_{n}" if n else "")
        whole = f"tower_0/{name}"
        if wide:
            put(f"stages.{n}.expand", f"{whole}/expand/Conv2D_weights", f"{whole}/expand/Conv2D_bn_offset")
        put(f"stages.{n}.depthwise", f"{whole}/depthwise/depthwise_weights", f"{whole}/depthwise/depthwise_bn_offset", True)
        if squeezed:
            put(f"stages.{n}.squeeze", f"{name}/squeeze_excite/Conv/weights", f"{name}/squeeze_excite/Conv/biases")
            put(f"stages.{n}.excite", f"{name}/squeeze_excite/Conv_1/weights", f"{name}/squeeze_excite/Conv_1/biases")
        put(f"stages.{n}.project", f"{whole}/project/Conv2D_weights", f"{whole}/project/Conv2D_bn_offset")
    return state


class Naming(nn.Module):
    """Odds of what each place shows, of the features that its colour is told by: to learn from names, and left out of the file."""

    def __init__(self, width, names):
        super().__init__()
        self.conv = nn.Conv2d(width, names, 1)

    def forward(self, h):
        return self.conv(h)


class Informed(nn.Module):
    """
    Planes of luma folded by 4 (n, 16, h, w) from -1 to 1, sides multiples of 8, to answers (n, cout, h, w): what `Seeing` makes of the picture,
    laid together from the coarsest size to the finest. While it learns, odds of `named` things follow the answers.
    """

    FOLD, CALM = 4, 0.1

    def __init__(self, cout, widths, named=0):
        super().__init__()
        self.seeing = Seeing()
        if named:
            self.naming = Naming(widths[0], named)
        handed = list(HANDED_ON.values())[1:]
        self.near = nn.Conv2d(self.FOLD * self.FOLD, widths[0], 3, padding=1)
        self.sides = nn.ModuleList([nn.Conv2d(c, w, 1) for c, w in zip(handed, widths)])
        self.ups = nn.ModuleList([nn.Conv2d(b, 4 * a, 1) for a, b in zip(widths, widths[1:])])
        self.blocks = nn.ModuleList([nn.Sequential(Block(w), Block(w)) for w in widths])
        self.tail = nn.Conv2d(widths[0], cout, 3, padding=1)

    def begun(self):
        """The state to begin with: the package's weights where there are any."""
        return {**self.state_dict(), **{f"seeing.{key}": value for key, value in weights_of_package().items()}}

    def forward(self, x):
        seen = self.seeing((unfold(x, self.FOLD) + 1) / 2)[1:]
        sides = [F.leaky_relu(side(self.CALM * s), 0.1) for side, s in zip(self.sides, seen)]
        sides[0] = sides[0] + F.leaky_relu(self.near(x), 0.1)
        h = self.blocks[-1](sides[-1])
        for side, up, blocks in list(zip(sides[:-1], self.ups, self.blocks))[::-1]:
            h = blocks(side + F.pixel_shuffle(up(h), 2))
        answer = self.tail(h)
        return torch.cat([answer, self.naming(h)], 1) if self.training and hasattr(self, "naming") else answer
