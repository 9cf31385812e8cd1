"""What each network learns: its shape, its samples, its loss, and how its result is judged on held-out pictures."""

import numpy as np
import torch
from torch.nn import functional as F

from networks import Enlarger, Trunk, enlarged, fold, unfold
from motionSamples import FieldSamples, TemporalSamples
from samples import CleanSamples, EnlargeSamples


# Of full scale: half a code. What is damaged less than that shall not rule the training.
NEAR = 0.002


# Share of the weave in the losses: little of it is seen at once on flat parts.
WEAVE = 2.0


# Share of 4x in an enlarger's loss: the harder task, and the trunk serves both.
FAR = 1.5


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


def known_mean(values, known):
    """The mean over patches that have a truth."""
    return (values * known).sum() / known.sum().clamp(min=1)


def psnr(a, b):
    """Of the batch as a whole: the mean of single patches would be ruled by those that stand still."""
    return float(-10 * torch.log10(((a.clamp(0, 1) - b) ** 2).mean() + 1e-10))


def stacked(rows):
    return torch.from_numpy(np.stack(rows))


def channels_first(x):
    return x.permute(0, 3, 1, 2).contiguous()


class Clean:
    """Input: folded Y'CbCr (12 planes: four of Y', Cb, Cr each) and five steering planes at half size; answer: 12 corrections."""

    inputs, planes = 17, 5

    def __init__(self, config):
        self.config = config

    def network(self):
        return Trunk(17, 12, self.config["widths"], self.config["blocks"])

    def samples(self, part, seed):
        return CleanSamples(part, self.config["patch"], seed)

    def batch(self, samples, count):
        damaged, planes, truth = zip(*(samples.one() for _ in range(count)))
        steer = F.avg_pool2d(channels_first(stacked(planes)), 2)
        return channels_first(stacked(damaged)), steer, channels_first(stacked(truth))

    def run(self, network, batch):
        damaged, steer, _ = batch
        x = torch.cat([fold(damaged), steer], 1).contiguous(memory_format=torch.channels_last)
        return damaged + unfold(network(x))

    def loss(self, result, batch):
        truth = batch[2]
        start = batch[0]
        luma = result[:, :1], truth[:, :1], start[:, :1]
        return distance(*luma) + WEAVE * weave(*luma) + 0.4 * distance(result[:, 1:], truth[:, 1:], start[:, 1:])

    def score(self, result, batch):
        return {"luma before": psnr(batch[0][:, :1], batch[2][:, :1]), "luma": psnr(result[:, :1], batch[2][:, :1]),
                "chroma before": psnr(batch[0][:, 1:], batch[2][:, 1:]), "chroma": psnr(result[:, 1:], batch[2][:, 1:])}


class Enlarge:
    """Input: folded luma (4 planes) and three steering planes at half size; answer: corrections to the Keys cubic at 2x and 4x."""

    inputs, planes = 7, 3

    def __init__(self, config):
        self.config = config

    def network(self):
        return Enlarger(7, self.config["widths"], self.config["blocks"])

    def adopted(self, other):
        """Weights to begin with from those of another content: the same."""
        return other

    def samples(self, part, seed):
        return EnlargeSamples(part, self.config["patch"], seed, self.config["content"])

    def batch(self, samples, count):
        small, planes, two, four = zip(*(samples.one() for _ in range(count)))
        known = torch.tensor([float(f is not None) for f in four])
        side = 4 * self.config["patch"]
        four = stacked([np.zeros((side, side), np.float32) if f is None else f for f in four])
        steer = F.avg_pool2d(channels_first(stacked(planes)), 2)
        return stacked(small)[:, None], steer, stacked(two)[:, None], four[:, None], known

    def run(self, network, batch):
        small, steer = batch[:2]
        x = torch.cat([fold(small), steer], 1).contiguous(memory_format=torch.channels_last)
        two, four = network(x)
        return enlarged(small, 2) + unfold(two, 4), enlarged(small, 4) + unfold(four, 8)

    def loss(self, result, batch):
        small, _, two, four, known = batch
        at2, at4 = (distances(result[n], truth, enlarged(small, factor)) for n, truth, factor in ((0, two, 2), (1, four, 4)))
        return at2.mean() + FAR * known_mean(at4, known)

    def score(self, result, batch):
        known = batch[4] > 0
        return {"2x cubic": psnr(enlarged(batch[0], 2), batch[2]), "2x": psnr(result[0], batch[2]),
                "4x cubic": psnr(enlarged(batch[0], 4)[known], batch[3][known]), "4x": psnr(result[1][known], batch[3][known])}


def fold_across(x):
    """(n, c, h, w) to (n, 2c, h, w / 2): even and odd columns of each plane."""
    n, c, h, w = x.shape
    return x.reshape(n, c, h, w // 2, 2).permute(0, 1, 4, 2, 3).reshape(n, 2 * c, h, w // 2)


def unfold_across(x):
    n, c, h, w = x.shape
    return x.reshape(n, c // 2, 2, h, w).permute(0, 1, 3, 4, 2).reshape(n, c // 2, h, 2 * w)


class Fields:
    """Input: six planes of a field's surroundings, folded across; answer: two columns' corrections to the fast choice."""

    inputs, planes = 12, 0

    def __init__(self, config):
        self.config = config

    def network(self):
        return Trunk(12, 2, self.config["widths"], self.config["blocks"])

    def samples(self, part, seed):
        return FieldSamples(part, self.config["patch"], seed)

    def batch(self, samples, count):
        planes, truth = zip(*(samples.one() for _ in range(count)))
        return stacked(planes), stacked(truth)[:, None]

    def run(self, network, batch):
        x = fold_across(batch[0]).contiguous(memory_format=torch.channels_last)
        return batch[0][:, 1:2] + unfold_across(network(x))

    def loss(self, result, batch):
        return charbonnier(result, batch[1]).mean()

    def score(self, result, batch):
        return {"fast": psnr(batch[0][:, 1:2], batch[1]), "best": psnr(result, batch[1])}


class Temporal:
    """
    Input: five frames laid over the middle one, each four folded luma planes, Cb and Cr at 4:2:0, five steering planes, and
    the middle frame as the fast choice cleans it; answer: corrections to the middle frame's four luma planes, Cb and Cr.
    Its trunk is Clean's, so that it can begin as a Clean that looks at the middle frame alone.
    """

    inputs, planes = 41, 5

    def __init__(self, config):
        self.config = config

    def network(self):
        return Trunk(41, 6, self.config["widths"], self.config["blocks"])

    def adopted(self, clean):
        """Weights with which it answers as Clean does for 4:2:0: there Clean sees each chroma sample four times over."""
        state = dict(clean)
        head = clean["head.weight"]
        state["head.weight"] = head.new_zeros(len(head), self.inputs, 3, 3)
        middle, steer = 12, 30
        state["head.weight"][:, middle:middle + 4] = head[:, :4]
        state["head.weight"][:, middle + 4] = head[:, 4:8].sum(1)
        state["head.weight"][:, middle + 5] = head[:, 8:12].sum(1)
        state["head.weight"][:, steer:steer + 5] = head[:, 12:17]
        for key in ("tail.weight", "tail.bias"):
            w = clean[key]
            state[key] = torch.cat([w[:4], w[4:8].mean(0, keepdim=True), w[8:12].mean(0, keepdim=True)])
        return state

    def samples(self, part, seed):
        return TemporalSamples(part, self.config["patch"], seed)

    def batch(self, samples, count):
        return [stacked(rows) for rows in zip(*(samples.one() for _ in range(count)))]

    def run(self, network, batch):
        lumas, chromas, steer, fast, fast_chroma = batch[:5]
        n, _, h, w = lumas.shape
        frames = torch.cat([fold(lumas.reshape(n * 5, 1, h, w)).reshape(n, 5, 4, h // 2, w // 2), chromas], 2)
        planes = steer[:, :, None, None].expand(n, 5, h // 2, w // 2)
        x = torch.cat([frames.reshape(n, 30, h // 2, w // 2), planes, fold(fast), fast_chroma], 1)
        out = network(x.contiguous(memory_format=torch.channels_last))
        return lumas[:, 2:3] + unfold(out[:, :4]), chromas[:, 2] + out[:, 4:]

    def loss(self, result, batch):
        luma = result[0], batch[5], batch[0][:, 2:3]
        return distance(*luma) + WEAVE * weave(*luma) + 0.8 * distance(result[1], batch[6], batch[1][:, 2])

    def score(self, result, batch):
        return {"luma before": psnr(batch[0][:, 2:3], batch[5]), "luma fast": psnr(batch[3], batch[5]), "luma": psnr(result[0], batch[5]),
                "chroma before": psnr(batch[1][:, 2], batch[6]), "chroma fast": psnr(batch[4], batch[6]), "chroma": psnr(result[1], batch[6])}


TASKS = {"fields": Fields, "clean": Clean, "temporal": Temporal, "enlarge": Enlarge}
