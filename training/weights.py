"""Weights of networks that are in models/ already."""

import os

import onnx
import torch
from onnx import numpy_helper

MODELS = os.path.join(os.path.dirname(os.path.dirname(os.path.abspath(__file__))), "models")


def weights_of(name):
    """The weights in the models folder, those in whole steps of their channel multiplied out; None where there are none."""
    path = os.path.join(MODELS, f"{name}.onnx")
    if not os.path.exists(path):
        return None
    values = {value.name: torch.from_numpy(numpy_helper.to_array(value).copy()) for value in onnx.load(path).graph.initializer}
    found = {}
    for name, value in values.items():
        name, _, kind = name.rpartition(".")
        if kind in ("weight", "bias"):
            found[f"{name}.{kind}"] = value
        elif kind == "whole":
            found[name] = value * values[f"{name}.step"].reshape(-1, *[1] * (value.dim() - 1))
    return found
