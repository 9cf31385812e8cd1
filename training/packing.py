"""Weights kept in eight bits, for networks that are too large otherwise; what is computed with them stays in floats."""

import numpy as np
import onnx
import torch
from onnx import helper, numpy_helper

# Weights from which a layer is packed: small ones, filters of single channels among them, would lose more than they save.
LARGE = 4000
LEVELS = 127


def whole_steps(weight):
    """Weights in whole steps of their output channel, and the steps: int8 of the weights' shape, floats (channels,)."""
    step = np.maximum(np.abs(weight).reshape(len(weight), -1).max(1), 1e-12) / LEVELS
    shape = (-1,) + (1,) * (weight.ndim - 1)
    return np.round(weight / step.reshape(shape)).astype(np.int8), step.astype(np.float32)


def rounded(network):
    """The network with the weights that its file will have."""
    with torch.no_grad():
        for value in network.parameters():
            if value.dim() == 4 and value.numel() >= LARGE:
                whole, step = whole_steps(value.numpy())
                value.copy_(torch.from_numpy(whole * step.reshape(-1, 1, 1, 1)))
    return network


def pack(path):
    """Rewrites a file's large weights as whole steps, multiplied out when it is loaded."""
    model = onnx.load(path)
    graph = model.graph
    kept, nodes = [], []
    for value in graph.initializer:
        weight = numpy_helper.to_array(value)
        if weight.ndim != 4 or weight.size < LARGE:
            kept.append(value)
            continue
        whole, step = whole_steps(weight)
        kept += [numpy_helper.from_array(whole, f"{value.name}.whole"), numpy_helper.from_array(step, f"{value.name}.step")]
        nodes.append(helper.make_node("DequantizeLinear", [f"{value.name}.whole", f"{value.name}.step"], [value.name], axis=0))
    nodes += graph.node
    del graph.initializer[:], graph.node[:]
    graph.initializer.extend(kept)
    graph.node.extend(nodes)
    onnx.checker.check_model(model)
    onnx.save(model, path)
