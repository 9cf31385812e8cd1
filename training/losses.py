"""What networks are judged by while they learn."""

import numpy as np
import torch
from torch.nn import functional as F

# Of full scale: half a code. What is damaged less than that shall not rule the training.
NEAR = 0.002


# Share of the weave in the losses: little of it is seen at once on flat parts.
WEAVE = 2.0


def charbonnier(a, b):
    """A soft L1 (Charbonnier et al., 1994), of each patch."""
    return torch.sqrt((a - b) ** 2 + 1e-6).mean((1, 2, 3))


def distances(made, truth, start):
    """What is left of each patch's damage; strong damage counts little more than weak, as in decibels."""
    return charbonnier(made, truth) / (charbonnier(start, truth) + NEAR) ** 0.7


def distance(made, truth, start):
    """Their mean over the batch."""
    return distances(made, truth, start).mean()


def weave(made, truth, start):
    """
    What is left at the finest frequencies with a slow envelope, relative to the damage like `distance`: the folded planes
    drift apart there, which the eye sees as a weave on flat parts, though it weighs little.
    """
    left = made - truth
    h, w = left.shape[-2:]
    across = (1 - 2 * (torch.arange(w) % 2)).to(left.dtype)
    down = (1 - 2 * (torch.arange(h) % 2)).to(left.dtype)[:, None]
    slow = sum(F.avg_pool2d(left * sign, 8).abs().mean((1, 2, 3)) for sign in (across, down, across * down))
    return (slow / (charbonnier(start, truth) + NEAR) ** 0.7).mean()


def psnr(a, b):
    """Of the batch as a whole: the mean of single patches would be ruled by those that stand still."""
    return float(-10 * torch.log10(((a.clamp(0, 1) - b) ** 2).mean() + 1e-10))


def stacked(rows):
    return torch.from_numpy(np.stack(rows))


def channels_first(x):
    return x.permute(0, 3, 1, 2).contiguous()
