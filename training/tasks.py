"""What each network learns: its shape, its samples, its loss, and how its result is judged on held-out pictures."""

import torch
from torch.nn import functional as F

from colourTask import Colour
from faces import face_sources
from faceSamples import SIZE_OF_FRAME, FaceSamples
from faceSeeing import FaceSeeing, unlike
from referenceSamples import ReferenceSamples
from findingTasks import Condition, Dirt, Silvering, Stains
from halftoneSamples import HalftoneSamples
from healTask import Heal
from losses import NEAR, WEAVE, channels_first, charbonnier, distance, distances, psnr, stacked, weave
from networks import Trunk, enlarged, fold, unfold
from motionSamples import FieldSamples, TemporalSamples
from samples import BLUR_UNIT, CleanSamples, EnlargeSamples


# Blur that the second of two enlargements is told of, in pixels: what the first leaves.
SECOND = 0.25


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
    """
    Input: folded luma (4 planes) and three steering planes at half size; answer: 16 corrections to the Keys cubic at 2x. Four
    times the size is made by going twice, the second time told of the softness the first leaves.
    """

    inputs, planes = 7, 3

    def __init__(self, config):
        self.config = config

    def network(self):
        return Trunk(7, 16, self.config["widths"], self.config["blocks"])

    def adopted(self, other):
        """Weights to begin with from those of another content: the same."""
        return other

    def samples(self, part, seed):
        return EnlargeSamples(part, self.config["patch"], seed, self.config["content"])

    def batch(self, samples, count):
        """Samples for one pass, and, of half their size, those for two: each (small, steering, truth) or None."""
        rows = [samples.one() for _ in range(count)]
        return tuple(self.group([row for row in rows if len(row[0]) == side]) for side in (self.config["patch"], self.config["patch"] // 2))

    def group(self, rows):
        if not rows:
            return None
        small, planes, truth = zip(*rows)
        return stacked(small)[:, None], F.avg_pool2d(channels_first(stacked(planes)), 2), stacked(truth)[:, None]

    def doubled(self, network, small, steer):
        x = torch.cat([fold(small), steer], 1).contiguous(memory_format=torch.channels_last)
        return enlarged(small, 2) + unfold(network(x), 4)

    def run(self, network, batch):
        """Both groups doubled, from where each began; what the second pass begins with is not learned from."""
        once, twice = batch
        results = []
        if once:
            results.append((self.doubled(network, *once[:2]), once[0]))
        if twice:
            with torch.no_grad():
                made = self.doubled(network, *twice[:2]).clamp(0, 1)
            told = made.new_zeros(len(made), 3, made.shape[2] // 2, made.shape[3] // 2)
            told[:, 2] = SECOND / BLUR_UNIT
            results.append((self.doubled(network, made, told), made))
        return results

    def loss(self, result, batch):
        truths = [group[2] for group in batch if group]
        return torch.cat([distances(made, truth, enlarged(start, 2)) for (made, start), truth in zip(result, truths)]).mean()

    def score(self, result, batch):
        rows = {}
        for (made, start), group in zip(result, [group for group in batch if group]):
            small, _, truth = group
            factor = truth.shape[-1] // small.shape[-1]
            rows[f"{factor}x cubic"], rows[f"{factor}x"] = psnr(enlarged(small, factor), truth), psnr(made, truth)
        return rows


def fold_across(x):
    """(n, c, h, w) to (n, 2c, h, w / 2): even and odd columns of each plane."""
    n, c, h, w = x.shape
    return x.reshape(n, c, h, w // 2, 2).permute(0, 1, 4, 2, 3).reshape(n, 2 * c, h, w // 2)


def unfold_across(x):
    n, c, h, w = x.shape
    return x.reshape(n, c // 2, 2, h, w).permute(0, 1, 3, 4, 2).reshape(n, c // 2, h, 2 * w)


# Share of combs in the loss: the eye finds one in a frame that is right elsewhere.
COMB = 2.0


def combs(made, batch):
    """How far filled lines stand out from both lines beside them in their own field, beyond what the true ones do; mean over all."""
    above, below = batch[0][:, :1, :-1], batch[0][:, :1, 1:]

    def out(lines):
        lines = lines[:, :, :-1]
        return F.relu(torch.minimum(lines - above, lines - below)), F.relu(torch.minimum(above - lines, below - lines))

    return sum(F.relu(a - b - NEAR).mean() for a, b in zip(out(made), out(batch[1])))


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
        return charbonnier(result, batch[1]).mean() + COMB * combs(result, batch)

    def score(self, result, batch):
        fast = batch[0][:, 1:2]
        return {"fast": psnr(fast, batch[1]), "best": psnr(result, batch[1]), "combs fast": 1000 * float(combs(fast, batch)),
                "combs best": 1000 * float(combs(result, batch))}


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


class Halftone(Clean):
    """
    Input: folded Y'CbCr, the folded threshold of black's screen, the period at half size, and the folded thresholds of cyan's, magenta's and
    yellow's screens; answer: 12 corrections.
    """

    inputs, planes = 29, 5

    def network(self):
        return Trunk(29, 12, self.config["widths"], self.config["blocks"])

    def adopted(self, clean):
        """Clean's weights without what steered it."""
        return {**clean, "head.weight": clean["head.weight"][:, :12]}

    def samples(self, part, seed):
        return HalftoneSamples(part, self.config["patch"], seed)

    def run(self, network, batch):
        damaged, planes, _ = batch
        x = torch.cat([fold(damaged), fold(planes[:, :1]), F.avg_pool2d(planes[:, 4:], 2), fold(planes[:, 1:4])], 1)
        return damaged + unfold(network(x.contiguous(memory_format=torch.channels_last)))

    def batch(self, samples, count):
        return [channels_first(stacked(rows)) for rows in zip(*(samples.one() for _ in range(count)))]


# How much more eyes and mouths count than the rest of a face, and how much it counts what a network that knows faces sees of it.
FEATURED, SEEN = 3.0, 0.4


class Faces(Clean):
    """
    Restores faces that are laid straight. Input: folded Y'CbCr as the steps before leave it, and six planes at half size: across and down the frame,
    the frame's size, how much it was enlarged, the noise and the quantiser step of the source. Answer: 12 corrections.
    """

    inputs, planes = 18, 6

    def __init__(self, config):
        super().__init__(config)
        self.seeing = FaceSeeing()

    def network(self):
        return Trunk(18, 12, self.config["widths"], self.config["blocks"])

    def adopted(self, clean):
        """Clean's weights without what steered it."""
        head = clean["head.weight"].new_zeros(len(clean["head.weight"]), 18, 3, 3)
        head[:, :12] = clean["head.weight"][:, :12]
        return {**clean, "head.weight": head}

    def more_sources(self):
        """Packages the faces are from, beside those of the pictures that Clean learned from."""
        return face_sources()

    def samples(self, part, seed):
        return FaceSamples(part, self.config["patch"], seed)

    def batch(self, samples, count):
        poor, planes, truth, marked = zip(*(samples.one() for _ in range(count)))
        steer = F.avg_pool2d(channels_first(stacked(planes)), 2)
        return channels_first(stacked(poor)), steer, channels_first(stacked(truth)), channels_first(stacked(marked))

    def run(self, network, batch):
        return super().run(network, batch[:3])

    def loss(self, result, batch):
        start, _, truth, marked = batch
        weight = 1 + FEATURED * marked
        off = lambda a: (weight * torch.sqrt((a - truth) ** 2 + 1e-6)).mean((2, 3)) / weight.mean((2, 3))
        left = off(result) / (off(start) + NEAR) ** 0.8
        sizes = SIZE_OF_FRAME * 2 ** batch[1][:, 2, 0, 0]
        seen = unlike(self.seeing, result, truth, start, sizes)
        return left[:, 0].mean() + 0.3 * left[:, 1:].mean() + SEEN * seen + 0.05 * WEAVE * weave(result[:, :1], truth[:, :1], start[:, :1])

    def score(self, result, batch):
        start, _, truth, marked = batch
        luma = lambda a: a[:, :1]
        at = lambda a: float(-10 * torch.log10((((luma(a).clamp(0, 1) - luma(truth)) ** 2) * marked).sum() / marked.sum()))
        each = lambda a: -10 * torch.log10(((luma(a).clamp(0, 1) - luma(truth)) ** 2).mean((1, 2, 3)) + 1e-7)
        gain = each(result) - each(start)
        seen = unlike(self.seeing, result, truth, start, SIZE_OF_FRAME * 2 ** batch[1][:, 2, 0, 0])
        return {"unlike": float(seen), "luma before": psnr(luma(start), luma(truth)), "luma": psnr(luma(result), luma(truth)), "features before": at(start),
                "features": at(result), "gain": float(gain.mean()), "worst": float(gain.min())}


# How much the doubt counts beside the correction.
DOUBTED = 0.05


class Reference(Faces):
    """
    Restores faces by another picture of the same person. Input as Faces, and the folded luma of that picture, laid on the face and in its light; answer:
    12 corrections, and how far off each of the 4 of luma may be, as the logarithm of a Laplace distribution's scale in hundredths.
    """

    inputs, planes = 22, 10

    def network(self):
        return Trunk(22, 16, self.config["widths"], self.config["blocks"])

    def adopted(self, faces):
        """Its inputs and its answers come first; `grown` adds the rest."""
        return faces

    def samples(self, part, seed):
        return ReferenceSamples(part, self.config["patch"], seed)

    def batch(self, samples, count):
        poor, planes, truth, marked, other = (channels_first(stacked(column)) for column in zip(*(samples.one() for _ in range(count))))
        return poor, F.avg_pool2d(planes, 2), truth, marked, other

    def run(self, network, batch):
        start, steer, _, _, other = batch
        answer = network(torch.cat([fold(start), steer, fold(other)], 1).contiguous(memory_format=torch.channels_last))
        return torch.cat([start + unfold(answer[:, :12]), unfold(answer[:, 12:])], 1)

    def loss(self, result, batch):
        made, doubt = result[:, :3], result[:, 3:].clamp(-3, 5)
        off = 100 * (made[:, :1].detach() - batch[2][:, :1]).abs()
        return super().loss(made, batch[:4]) + DOUBTED * (off * torch.exp(-doubt) + doubt).mean()

    def score(self, result, batch):
        rows = super().score(result[:, :3], batch[:4])
        off = 100 * (result[:, :1] - batch[2][:, :1]).abs()
        sure = result[:, 3:] < result[:, 3:].median()
        return {**rows, "off where sure": float(off[sure].mean()), "where not": float(off[~sure].mean())}


TASKS = {"colour": Colour, "faces": Faces, "reference": Reference, "halftone": Halftone, "dirt": Dirt, "stains": Stains, "silvering": Silvering, "heal": Heal, "condition": Condition, "fields": Fields, "clean": Clean, "temporal": Temporal, "enlarge": Enlarge}
