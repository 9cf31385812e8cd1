"""What the network that heals learns."""

import torch

from blemishSamples import CANDIDATES, HealSamples
from losses import NEAR, stacked
from networks import Trunk, fold, unfold


class Heal:
    """
    Weighs ways to fill what is masked. Input: the luma each of them gives, folded, and the folded mask; answer: logarithmic weights of the
    ways, and a correction, 4 planes each.
    """

    inputs, planes = 4 * (CANDIDATES + 1), 0

    def __init__(self, config):
        self.config = config

    def network(self):
        return Trunk(self.inputs, 4 * (CANDIDATES + 1), self.config["widths"], self.config["blocks"])

    def samples(self, part, seed):
        return HealSamples(part, self.config, seed)

    def batch(self, samples, count):
        return [stacked(rows) for rows in zip(*(samples.one() for _ in range(count)))]

    def run(self, network, batch):
        candidates, mask, _ = batch
        # Against the first of them, so that only what they differ by is seen, and much of it.
        apart = 4 * (candidates[:, 1:] - candidates[:, :1])
        x = torch.cat([fold(candidates[:, :1] - 0.5), fold(apart), fold(mask)], 1).contiguous(memory_format=torch.channels_last)
        answer = unfold(network(x))
        weights = torch.softmax(answer[:, :CANDIDATES], 1)
        return (weights * candidates).sum(1, keepdim=True) + 0.25 * answer[:, CANDIDATES:]

    def loss(self, result, batch):
        """Inside the mask, each picture relative to how hard its damage is to mend."""
        candidates, mask, truth = batch
        area = mask.sum((1, 2, 3)) + 50
        left = lambda made: (torch.sqrt((made - truth) ** 2 + 1e-6) * mask).sum((1, 2, 3)) / area
        hard = left(candidates.mean(1, keepdim=True))
        return (left(result) / (hard + 4 * NEAR) ** 0.5).mean()

    def score(self, result, batch):
        candidates, mask, truth = batch
        off = lambda a: float((-10 * torch.log10((((a - truth) * mask) ** 2).sum((1, 2, 3)) / mask.sum((1, 2, 3)) + 1e-5)).mean())
        return {"smooth": off(candidates[:, :1]), "patches": off(candidates[:, 1:2]), "mean": off(candidates.mean(1, keepdim=True)), "healed": off(result)}
