"""What the network for colour learns."""

import numpy as np
import torch
from torch.nn import functional as F

from colourSamples import BINS, FOLD, NAMED, NAMELESS, RADIUS, SCENES, SPACING, ColourSamples, demo_photographs, portraits, scenes, shares
from faces import FACE_PACKAGES
from losses import stacked
from named import NAMES, named_textures
from networks import fold
from seeing import Informed
from sources import PACKAGES

# How far classes count by how rare they are, against all alike (Zhang, Isola and Efros, 2016), and bounds of their weights.
RARE, LIGHTEST, HEAVIEST = 0.5, 0.4, 4.0
# Samples that tell how often each class comes.
COUNTED = 300
# How much it counts to name what is shown, beside its colour.
NAMING = 0.1
# Likelihoods are raised to the inverse of this before their mean is taken: a mean of all that may be is grey.
SHARPER = 0.5


class Colour:
    """
    Input: luma folded to a quarter of the size (16 planes); answer: logarithmic odds of each class of colour at a quarter of the size. What
    has several answers keeps them apart, where a mean of them would be grey.
    """

    inputs, planes = FOLD * FOLD, 0
    # Axes of the places in what the file answers.
    places = (1, 2)

    def __init__(self, config):
        self.config = config
        self.centres = torch.tensor(BINS * SPACING, dtype=torch.float32)
        self.weights = torch.ones(len(BINS))

    def network(self):
        return Informed(len(BINS), self.config["widths"], named=len(NAMES))

    def samples(self, part, seed):
        made = ColourSamples(part, self.config["patch"], seed)
        if part == "train":
            self.weights = self.weighed(ColourSamples(part, self.config["patch"], 3))
        return made

    def weighed(self, samples):
        """How much a class counts: the rare ones more, so that grey and brown do not rule."""
        counts = np.zeros(len(BINS))
        for _ in range(COUNTED):
            at, weights = shares(samples.one()[1])
            np.add.at(counts, at, weights)
        odds = counts / counts.sum()
        weight = 1 / (RARE * odds + (1 - RARE) / len(BINS))
        weight = np.clip(weight / (odds * weight).sum(), LIGHTEST, HEAVIEST)
        return torch.tensor(weight / (odds * weight).sum(), dtype=torch.float32)

    def finished(self, odds):
        """What the file answers: how likely each class is, place by place, which is faster than to reckon it of odds class by class."""
        return torch.softmax(odds.permute(0, 2, 3, 1), 3)

    def batch(self, samples, count):
        luma, chroma, names = zip(*(samples.one() for _ in range(count)))
        at, weights = zip(*(shares(c) for c in chroma))
        return stacked(luma)[:, None], stacked(at), stacked(weights), stacked(chroma), stacked(names)

    def run(self, network, batch):
        return network(fold(2 * batch[0] - 1, FOLD).contiguous(memory_format=torch.channels_last))

    def loss(self, result, batch):
        """Cross entropy against the shares of the classes round the true colour, and against what is shown where that is known."""
        _, at, weights, _, names = batch
        named = F.cross_entropy(result[:, len(BINS):], names, ignore_index=NAMELESS, reduction="sum") / names.numel()
        likely = F.log_softmax(result[:, :len(BINS)], 1).permute(0, 2, 3, 1)
        told = -(likely.gather(3, at) * weights).sum(3)
        # By the class that is nearest.
        nearest = at.gather(3, weights.argmax(3, keepdim=True))[..., 0]
        return (told * self.weights[nearest]).mean() + NAMING / NAMED * named

    def score(self, result, batch):
        """Codes of chroma off: of the answer, of grey, of one colour for all; mean chroma of the answer over the truth's; off where it is sure over where it is not."""
        truth = batch[3].permute(0, 3, 1, 2)
        likely = torch.softmax(result / SHARPER, 1)
        answer = torch.einsum("nkhw,kc->nchw", likely, self.centres)
        off = lambda a: torch.sqrt(((a - truth) ** 2).sum(1))
        length = lambda a: float(torch.sqrt((a ** 2).sum(1)).mean())
        plain = torch.softmax(result, 1)
        doubt = torch.einsum("nkhw,k->nhw", plain, (self.centres ** 2).sum(1)) - (torch.einsum("nkhw,kc->nchw", plain, self.centres) ** 2).sum(1)
        left, middle = off(answer), doubt.median()
        one = truth.mean((0, 2, 3), keepdim=True)
        return {"off": float(left.mean()), "grey off": float(off(torch.zeros_like(truth)).mean()), "one colour off": float(off(one).mean()),
                "chroma": length(answer) / length(truth), "sure over unsure": float(left[doubt <= middle].mean() / left[doubt > middle].mean())}

    def more_sources(self):
        faces = {"+".join(FACE_PACKAGES): {"pictures": len(demo_photographs("train")) + len(portraits("train")), "licence": "MIT"}}
        named = {f"{package}, by name": {"pictures": len(found), "licence": PACKAGES[package]} for package, found in named_textures("train").items()}
        return faces | named | {package: {"pictures": len(found), "licence": SCENES[package][0]} for package, found in scenes("train").items()}
