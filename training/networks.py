"""The networks: convolutions only, on planes folded to half size, so that they run fast on a plain CPU.

Folding (pixel-unshuffle) and unfolding are done by the program around the network, not in it.
"""

import torch
from torch import nn
from torch.nn import functional as F


class Block(nn.Module):
    """Residual block h + leaky(conv(h)); He initialisation times 0.3, without which a deep stack does not start to learn."""

    def __init__(self, width):
        super().__init__()
        self.conv = nn.Conv2d(width, width, 3, padding=1)
        nn.init.kaiming_normal_(self.conv.weight, a=0.1)
        self.conv.weight.data *= 0.3
        nn.init.zeros_(self.conv.bias)

    def forward(self, h):
        return h + F.leaky_relu_(self.conv(h), 0.1)


class Trunk(nn.Module):
    """
    Three scales joined by skips (Ronneberger et al., 2015), each a few residual blocks. Input (n, cin, h, w), output
    (n, cout, h, w); h and w are multiples of 4. The output starts at zero: all networks here answer with a correction.
    """

    def __init__(self, cin, cout, widths, blocks):
        super().__init__()
        a, b, c = widths
        self.head = nn.Conv2d(cin, a, 3, padding=1)
        self.one = nn.Sequential(*[Block(a) for _ in range(blocks[0])])
        self.down1 = nn.Conv2d(a, b, 2, stride=2)
        self.two = nn.Sequential(*[Block(b) for _ in range(blocks[1])])
        self.down2 = nn.Conv2d(b, c, 2, stride=2)
        self.three = nn.Sequential(*[Block(c) for _ in range(blocks[2])])
        self.up2 = nn.Conv2d(c, 4 * b, 1)
        self.two_again = nn.Sequential(*[Block(b) for _ in range(blocks[1])])
        self.up1 = nn.Conv2d(b, 4 * a, 1)
        self.one_again = nn.Sequential(*[Block(a) for _ in range(blocks[0])])
        self.tail = nn.Conv2d(a, cout, 3, padding=1)
        nn.init.zeros_(self.tail.weight)
        nn.init.zeros_(self.tail.bias)

    def features(self, x):
        one = self.one(F.leaky_relu(self.head(x), 0.1))
        two = self.two(self.down1(one))
        three = self.three(self.down2(two))
        two = self.two_again(two + F.pixel_shuffle(self.up2(three), 2))
        return self.one_again(one + F.pixel_shuffle(self.up1(two), 2))

    def forward(self, x):
        return self.tail(self.features(x))


class Seeker(nn.Module):
    """
    Four scales joined by skips, for what is to be told from its wider surroundings. Input (n, cin, h, w), output (n, cout, h, w); h and
    w are multiples of 8.
    """

    def __init__(self, cin, cout, widths, blocks):
        super().__init__()
        self.head = nn.Conv2d(cin, widths[0], 3, padding=1)
        stack = lambda width, count: nn.Sequential(*[Block(width) for _ in range(count)])
        self.down_blocks = nn.ModuleList([stack(w, n) for w, n in zip(widths, blocks)])
        self.downs = nn.ModuleList([nn.Conv2d(a, b, 2, stride=2) for a, b in zip(widths, widths[1:])])
        self.ups = nn.ModuleList([nn.Conv2d(b, 4 * a, 1) for a, b in zip(widths, widths[1:])])
        self.up_blocks = nn.ModuleList([stack(w, n) for w, n in zip(widths[:-1], blocks[:-1])])
        self.tail = nn.Conv2d(widths[0], cout, 3, padding=1)

    def forward(self, x):
        h = F.leaky_relu(self.head(x), 0.1)
        levels = []
        for blocks, down in zip(self.down_blocks, self.downs):
            h = blocks(h)
            levels.append(h)
            h = down(h)
        h = self.down_blocks[-1](h)
        for level, up, blocks in zip(levels[::-1], list(self.ups)[::-1], list(self.up_blocks)[::-1]):
            h = blocks(level + F.pixel_shuffle(up(h), 2))
        return self.tail(h)


def keys_kernel(factor):
    """
    Taps of the Keys cubic (a = -1/2, 1981) for the `factor` phases between samples, (factor, 6): sample x of the large
    picture lies at (x + 0.5) / factor - 0.5 of the small one; taps stand at floor - 2 to floor + 3 of the phase's base.
    """
    rows = []
    for phase in range(factor):
        at = (phase + 0.5) / factor - 0.5
        row = []
        for tap in range(-2, 4):
            t = abs(at - tap)
            row.append(1.5 * t ** 3 - 2.5 * t ** 2 + 1 if t < 1 else -0.5 * t ** 3 + 2.5 * t ** 2 - 4 * t + 2 if t < 2 else 0.0)
        rows.append(row)
    return torch.tensor(rows)


def enlarged(y, factor):
    """Keys cubic enlargement of (n, 1, h, w) planes, with repeated edges."""
    taps = keys_kernel(factor).to(y.dtype)
    kernel = torch.einsum("ai,bj->abij", taps, taps).reshape(factor * factor, 1, 6, 6)
    return F.pixel_shuffle(F.conv2d(F.pad(y, (2, 3, 2, 3), mode="replicate"), kernel), factor)


def fold(x, n=2):
    return F.pixel_unshuffle(x, n)


def unfold(x, n=2):
    return F.pixel_shuffle(x, n)


# Distances at which `reading_planes` compares samples: what answers less at the short ones hangs together.
APART = (1, 2, 3)


class Reader(nn.Module):
    """
    Reads figures off a plane: planes (n, 16, h, w) as `reading_planes` makes them, answer (n, 2 k, 1, 1): k means and the
    logarithms of the k Laplace scales that say how sure they are (Kendall and Gal, 2017). Features are gathered by attention, for
    most of a picture may be texture and little of it plain.
    """

    HEADS = 4

    def __init__(self, figures, widths):
        super().__init__()
        a, b, c = widths
        self.trunk = nn.Sequential(
            nn.Conv2d(4 + 4 * len(APART), a, 3, padding=1), nn.LeakyReLU(0.1), Block(a), Block(a),
            nn.Conv2d(a, b, 3, stride=2, padding=1), nn.LeakyReLU(0.1), Block(b), Block(b),
            nn.Conv2d(b, c, 3, stride=2, padding=1), nn.LeakyReLU(0.1), Block(c), Block(c))
        self.where = nn.Conv2d(c, self.HEADS, 1)
        self.join = nn.Conv2d(2 * c, 64, 1)
        self.tail = nn.Conv2d(64, 2 * figures, 1)

    def forward(self, x):
        h = self.trunk(x)
        n, c = h.shape[:2]
        flat = h.flatten(2)
        weight = torch.softmax(self.where(h).flatten(2), 2)
        picked = torch.cat([(part * weight[:, i:i + 1]).sum(2) for i, part in enumerate(flat.split(c // self.HEADS, 1))], 1)
        pooled = torch.cat([picked, flat.mean(2)], 1)[:, :, None, None]
        return self.tail(F.leaky_relu(self.join(pooled), 0.1))


def reading_planes(plane):
    """
    What Reader sees of planes (n, 1, h, w) over 1: folded samples, and folded differences from the four samples 1, 2 and 3 away,
    under a signed root, which shows noise of one code beside edges of a hundred.
    """
    h, w = plane.shape[2:]
    parts = [fold(2 * plane - 1)]
    for d in APART:
        wide = F.pad(plane, (d, d, d, d), mode="replicate")
        around = (wide[:, :, :h, d:-d] + wide[:, :, 2 * d:, d:-d] + wide[:, :, d:-d, :w] + wide[:, :, d:-d, 2 * d:]) / 4
        apart = plane - around
        parts.append(fold(torch.sign(apart) * torch.sqrt(apart.abs() * 16)))
    return torch.cat(parts, 1)
