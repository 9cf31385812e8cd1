"""Networks that read pictures rather than mend them: what condition they are in, and where damage is."""

import numpy as np
import torch
from torch.nn import functional as F

from blemishes import KINDS
from blemishSamples import BlemishSamples, StainSamples, finding_planes
from conditionSamples import ConditionSamples
from losses import channels_first, stacked
from networks import Reader, Seeker, reading_planes, unfold
from samples import SIZE_UNIT
from silveringSamples import SilveringSamples


class Condition:
    """
    Reads the deviation of a plane's grain, its radius, and the quantiser step, and how sure it is of each. Deviation and step are
    learned as logarithms of 1 + their codes, for a code more is much on one and little on twenty.
    """

    inputs, planes = 16, 0
    # Under this deviation a radius means nothing, in the same logarithm.
    GRAINY = 1.3

    def __init__(self, config):
        self.config = config

    def network(self):
        return Reader(3, self.config["widths"])

    def samples(self, part, seed):
        return ConditionSamples(part, self.config["patch"], seed)

    def batch(self, samples, count):
        """Some batches are of fewer parts, for pictures may be small and are then read less surely."""
        planes, read = zip(*(samples.one() for _ in range(count)))
        planes, read = stacked(planes)[:, None], stacked(read)
        side = self.config["patch"]
        rows, columns = [(2, 3), (2, 3), (2, 3), (2, 2), (1, 2), (1, 1)][int(samples.random.integers(6))]
        planes = planes[:, :, :rows * side, :columns * side]
        return planes, torch.stack([torch.log2(1 + read[:, 0]), read[:, 1] / SIZE_UNIT, torch.log2(1 + read[:, 2])], 1)

    def run(self, network, batch):
        return network(reading_planes(batch[0]).contiguous(memory_format=torch.channels_last))[:, :, 0, 0]

    def loss(self, result, batch):
        """Of a Laplace distribution, the negative logarithm."""
        truth, mean, scale = batch[1], result[:, :3], result[:, 3:].clamp(-5, 4)
        weight = torch.ones_like(truth)
        weight[:, 1] = 0.5 * ((truth[:, 0] > self.GRAINY) & (truth[:, 1] >= 0))
        return (weight * ((mean - truth).abs() * torch.exp(-scale) + scale)).mean()

    def score(self, result, batch):
        truth, mean, sure = batch[1], result[:, :3], result[:, 3:6] < np.log(0.3)
        off = (mean - truth).abs()
        clean = truth[:, 0] == 0
        rows = {"grain off": float(off[:, 0].mean()), "clean reads": float(mean[clean, 0].mean()), "step off": float(off[:, 2].mean()),
                "sure": float(sure[:, 0].float().mean())}
        if sure[:, 0].any():
            rows["off where sure"] = float(off[sure[:, 0], 0].mean())
        grainy = (truth[:, 0] > self.GRAINY) & (truth[:, 1] >= 0)
        if grainy.any():
            rows["size off"] = float(off[grainy, 1].mean()) * SIZE_UNIT
        return rows


# How much more a damaged pixel counts than a whole one.
RARE = 2.5
# Share of a whole picture that is taken for damage, and it is misjudged.
ALARMING = 0.0005


class Dirt:
    """
    Finds damage on prints. Input: `finding_planes`; answer: logarithmic odds of damage, and of each kind against the others where there is
    damage, 4 planes each.
    """

    inputs, planes = 28, 0
    ANSWERS = 1 + len(KINDS)

    def __init__(self, config):
        self.config = config

    def network(self):
        return Seeker(self.inputs, 4 * self.ANSWERS, self.config["widths"], self.config["blocks"])

    def samples(self, part, seed):
        return BlemishSamples(part, self.config["patch"], seed)

    def batch(self, samples, count):
        damaged, _, labels, sure = zip(*(samples.one() for _ in range(count)))
        return stacked([finding_planes(picture) for picture in damaged]), channels_first(stacked(labels)), stacked(sure)[:, None]

    def run(self, network, batch):
        return unfold(network(batch[0].contiguous(memory_format=torch.channels_last)))

    def loss(self, result, batch):
        _, labels, sure = batch
        found, kinds = result[:, :1], result[:, 1:]
        truth = labels.amax(1, keepdim=True)
        which = F.log_softmax(kinds, 1)
        told = -(which * labels).sum(1, keepdim=True) / labels.sum(1, keepdim=True).clamp(min=1)
        return self.mask_loss(found, truth, sure) + 0.1 * told.sum() / (truth.sum() + 1)

    def mask_loss(self, found, truth, sure):
        """Cross entropy, and how far both masks overlap (Milletari et al., 2016), for damage is rare."""
        # A network that saw none would be right nearly everywhere.
        plain = (sure * F.binary_cross_entropy_with_logits(found, truth, reduction="none", pos_weight=found.new_tensor(RARE))).mean()
        odds = sure * torch.sigmoid(found)
        # One picture and one kind at a time, so that thin things count as much as wide ones.
        both = (odds * truth).sum((2, 3))
        overlap = 1 - (2 * both + 20) / (odds.sum((2, 3)) + truth.sum((2, 3)) + 20)
        return 4 * plain + 0.5 * overlap.mean()

    def misjudged(self, result, batch):
        """Whole pictures of which some is taken for damage."""
        labels = batch[1]
        whole = ~(labels > 0).flatten(1).any(1)
        return (whole & ((result[:, :1] > 0).flatten(1).float().mean(1) > ALARMING)).tolist()

    def score(self, result, batch):
        _, labels, sure = batch
        truth = labels.amax(1, keepdim=True) > 0
        found = (result[:, :1] > 0) & (sure > 0)
        whole = ~truth.flatten(1).any(1)
        rows = {}
        if whole.any():
            rows["false alarms, per mille"] = 1000 * float(found[whole].float().mean())
        for n, kind in enumerate(KINDS):
            alone = (labels[:, n].flatten(1).any(1)) & ~torch.cat([labels[:, :n], labels[:, n + 1:]], 1).flatten(1).any(1)
            if alone.any():
                hit = (found[alone] & truth[alone]).sum()
                rows[kind] = float(2 * hit / (found[alone].sum() + truth[alone].sum()).clamp(min=1))
        if truth.any():
            rows["kind right"] = float(labels.gather(1, result[:, 1:].argmax(1, keepdim=True))[truth].mean())
        return rows


class Stains(Dirt):
    """Finds spilled stains at half the size, as Dirt finds damage; answer: logarithmic odds of a stain, 4 planes."""

    ANSWERS = 1

    def adopted(self, dirt):
        """Its odds of damage come first."""
        return {key: value[:4] if key.startswith("tail.") else value for key, value in dirt.items()}

    def samples(self, part, seed):
        return StainSamples(part, self.config["patch"], seed)

    def loss(self, result, batch):
        return self.mask_loss(result, *batch[1:])

    def score(self, result, batch):
        _, truth, sure = batch
        found = (result > 0) & (sure > 0)
        whole = ~(truth > 0).flatten(1).any(1)
        rows = {}
        if whole.any():
            rows["false alarms, per mille"] = 1000 * float(found[whole].float().mean())
        stained = truth[~whole] > 0
        if len(stained):
            rows["stains"] = float(2 * (found[~whole] & stained).sum() / (found[~whole].sum() + stained.sum()).clamp(min=1))
        return rows


# How much codes of the veil count beside its place.
VEIL = 12


class Silvering(Stains):
    """
    Finds silver come to the surface in the whole of a print, reduced. Input: `finding_planes`; answer, 4 planes each: logarithmic odds that a place is
    veiled; how strong the veil is there where all is dark; and its colour in Y'CbCr, off that of bluish grey.
    """

    ANSWERS = 5
    # Cover of the darkest there is, and the colour, where the network answers 0.
    STRENGTH, COLOUR = 0.35, (0.62, 0.53, 0.48)
    # What is as light as this is not veiled, see `src/core/silvering/lift.ts`.
    LIGHT = 1.15

    def adopted(self, stains):
        """Its odds come first; the veil is learned from nothing."""
        return {key: torch.cat([value, torch.zeros(16, *value.shape[1:])]) if key.startswith("tail.") else value for key, value in stains.items()}

    def samples(self, part, seed):
        return SilveringSamples(part, self.config["patch"], seed)

    def batch(self, samples, count):
        damaged, whole, labels, sure = zip(*(samples.one() for _ in range(count)))
        planes = stacked([finding_planes(picture) for picture in damaged])
        return planes, channels_first(stacked(labels)), stacked(sure)[:, None], channels_first(stacked(whole)), channels_first(stacked(damaged))

    def run(self, network, batch):
        answer = unfold(network(batch[0].contiguous(memory_format=torch.channels_last)))
        start = answer.new_tensor(self.COLOUR)[None, :, None, None]
        return torch.cat([answer[:, :1], torch.sigmoid(answer[:, 1:2] + float(np.log(self.STRENGTH / (1 - self.STRENGTH)))), start + 0.25 * answer[:, 2:]], 1)

    def veil(self, result, whole):
        """What the veil that was found adds to the print as it was."""
        cover = result[:, 1:2] * (self.LIGHT - whole[:, :1]).clamp(min=0)
        return cover * (result[:, 2:] - whole)

    def loss(self, result, batch):
        _, labels, sure, whole, damaged = batch
        off = (self.veil(result, whole) - (damaged - whole)).abs()
        # Grain and coding differ in places without a veil too; where none is, the odds say so and the strength says nothing.
        return self.mask_loss(result[:, :1], labels, sure) + VEIL * (labels * off).sum() / (labels.sum() + 500)

    def misjudged(self, result, batch):
        return super().misjudged(result[:, :1], batch)

    def score(self, result, batch):
        _, labels, sure, whole, damaged = batch
        off = 255 * (self.veil(result, whole) - (damaged - whole)).abs().mean(1, keepdim=True)
        veiled = labels > 0
        return {**super().score(result[:, :1], batch[:3]), "veil": float(255 * (damaged - whole).abs().mean(1, keepdim=True)[veiled].mean()), "off": float(off[veiled].mean())}
