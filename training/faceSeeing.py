"""
A network that has learned what faces look like: small separable convolutions (Chollet, Xception, 2017) that tell ages, of the package
@vladmandic/face-api (MIT). What it sees of two pictures of a face says more of whether they are alike than their pixels do. It describes nobody, and has no
part in the program: those that do are kept to judge by.
"""

import json
import os

import numpy as np
import torch
from torch import nn
from torch.nn import functional as F

FOLDER = os.path.join(os.path.dirname(os.path.dirname(os.path.abspath(__file__))), "node_modules", "@vladmandic", "face-api", "model")
NAME = "age_gender_model"
# Side of a face's frame as it was taught, and frames from which a picture is halved before it is looked at.
HALVED_FROM = 150
MEAN = (122.782, 117.001, 104.298)


def weights_of_package(folder=FOLDER):
    """Names and arrays, channels last as the package has them; those of 8 bits multiplied out."""
    with open(os.path.join(folder, f"{NAME}-weights_manifest.json")) as file:
        entries = [entry for group in json.load(file) for entry in group["weights"]]
    with open(os.path.join(folder, f"{NAME}.bin"), "rb") as file:
        data = file.read()
    values, at = {}, 0
    for entry in entries:
        packed = entry.get("quantization")
        kind = np.dtype(packed["dtype"] if packed else entry["dtype"])
        count = int(np.prod(entry["shape"]))
        array = np.frombuffer(data, kind, count, at).astype(np.float32)
        if packed:
            array = array * packed["scale"] + packed["min"]
        values[entry["name"]] = array.reshape(entry["shape"])
        at += count * kind.itemsize
    return values


class FaceSeeing(nn.Module):
    """Y'CbCr over 1 (n, 3, h, w) to what is seen at an eighth and at a sixteenth of the size. Nothing of it is taught."""

    def __init__(self):
        super().__init__()
        self.values = {}
        for name, value in weights_of_package().items():
            if value.ndim == 4:
                # (h, w, in, out), or (h, w, in, 1) for one filter a channel.
                value = value.transpose(2, 3, 0, 1) if "depthwise" in name else value.transpose(3, 2, 0, 1)
            self.values[name] = torch.from_numpy(np.ascontiguousarray(value))

    def separable(self, x, name):
        depth = self.values[f"{name}/depthwise_filter"]
        x = F.conv2d(x, depth, padding=1, groups=len(depth))
        return F.conv2d(x, self.values[f"{name}/pointwise_filter"], self.values[f"{name}/bias"])

    def reduced(self, x, name, active=True):
        out = self.separable(F.relu(x) if active else x, f"{name}/separable_conv0")
        out = self.separable(F.relu(out), f"{name}/separable_conv1")
        beside = F.conv2d(x, self.values[f"{name}/expansion_conv/filters"], self.values[f"{name}/expansion_conv/bias"], stride=2)
        out = F.max_pool2d(F.pad(out, (0, 1, 0, 1), value=-1e4), 3, 2)
        return out[:, :, :beside.shape[2], :beside.shape[3]] + beside

    def forward(self, ycc):
        y, b, r = 255 * ycc[:, 0], 255 * (ycc[:, 1] - 0.5), 255 * (ycc[:, 2] - 0.5)
        rgb = torch.stack([y + 1.402 * r, y - 0.344136 * b - 0.714136 * r, y + 1.772 * b], 1)
        x = (rgb - rgb.new_tensor(MEAN)[None, :, None, None]) / 255
        x = F.relu(F.conv2d(x, self.values["entry_flow/conv_in/filters"], self.values["entry_flow/conv_in/bias"], stride=2, padding=1))
        x = self.reduced(x, "entry_flow/reduction_block_0", False)
        x = self.reduced(x, "entry_flow/reduction_block_1")
        for block in range(2):
            out = x
            for n in range(3):
                out = self.separable(F.relu(out), f"middle_flow/main_block_{block}/separable_conv{n}")
            x = x + out
        return [x, self.reduced(x, "exit_flow/reduction_block")]


def unlike(seeing, made, truth, start, sizes):
    """
    How much of what is seen differs from the truth, against what differed at the start, mean over the faces.

    @param sizes of the frames (n), in pixels.
    """
    parts = []
    for large in (False, True):
        chosen = (sizes >= HALVED_FROM) == large
        if not chosen.any():
            continue
        looked = [F.avg_pool2d(picture[chosen], 2) if large else picture[chosen] for picture in (made, truth, start)]
        with torch.no_grad():
            known, before = seeing(looked[1]), seeing(looked[2])
        for ours, theirs, first in zip(seeing(looked[0]), known, before):
            off = lambda a: (a - theirs).abs().mean((1, 2, 3))
            parts.append(off(ours) / (off(first) + 0.1 * theirs.abs().mean((1, 2, 3))) / 2)
    return torch.cat(parts).sum() / len(sizes)
