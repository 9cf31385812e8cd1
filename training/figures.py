"""Things that make combs, drawn over moving pictures with known truth: limbs, lettering, spokes, fences, thin things, dots."""

import cv2
import numpy as np

# Drawn so many times finer, then gathered.
FINER = 4
# Bits of a fraction in cv2's coordinates.
SHIFT = 4
FONTS = (cv2.FONT_HERSHEY_SIMPLEX, cv2.FONT_HERSHEY_DUPLEX, cv2.FONT_HERSHEY_COMPLEX, cv2.FONT_HERSHEY_TRIPLEX)
SIGNS = "ABCDEFGHIJKLMNOPRSTUVWZabcdefghiklmnoprstuvwxz0123456789.,:-&"


class Sheet:
    """A mask of a frame, drawn finer; coordinates in pixels of the frame."""

    def __init__(self, size):
        self.size = size
        self.mask = np.zeros((size[1] * FINER, size[0] * FINER), np.uint8)

    def at(self, x, y):
        return int(round(x * FINER * (1 << SHIFT))), int(round(y * FINER * (1 << SHIFT)))

    def line(self, a, b, thickness):
        cv2.line(self.mask, self.at(*a), self.at(*b), 255, max(1, round(thickness * FINER)), cv2.LINE_8, SHIFT)

    def disc(self, at, radius, thickness=-1):
        cv2.circle(self.mask, self.at(*at), round(radius * FINER * (1 << SHIFT)), 255,
                   thickness if thickness < 0 else max(1, round(thickness * FINER)), cv2.LINE_8, SHIFT)

    def cover(self):
        return cv2.resize(self.mask, self.size, interpolation=cv2.INTER_AREA).astype(np.float32)[:, :, None] / 255


def shade(random):
    """A flat colour, or one that changes a little down the frame."""
    return random.uniform(0, 255, 3).astype(np.float32)


def walkers(random, size):
    """Figures with swinging limbs, each of its own pace."""
    width, height = size
    people = [{"x": random.uniform(0, width), "y": height * random.uniform(0.35, 0.65), "tall": height * random.uniform(0.35, 1.3),
               "speed": random.normal(0, 2.5), "step": random.uniform(0, 6), "pace": random.uniform(0.05, 0.5),
               "dress": shade(random), "skin": shade(random), "coat": shade(random)} for _ in range(random.integers(1, 5))]

    def draw(frame, t):
        for p in people:
            x, y, tall = p["x"] + p["speed"] * t, p["y"], p["tall"]
            swing = 0.6 * np.sin(p["step"] + p["pace"] * t)
            legs, arms, body = Sheet(size), Sheet(size), Sheet(size)
            for side in (1, -1):
                a = side * swing
                knee = (x + np.sin(a) * tall * 0.24, y + np.cos(a) * tall * 0.24)
                b = a - np.sign(p["speed"]) * 0.45 * max(0, np.sin(side * (p["step"] + p["pace"] * t) + 1))
                legs.line((x, y), knee, tall * 0.09)
                legs.line(knee, (knee[0] + np.sin(b) * tall * 0.25, knee[1] + np.cos(b) * tall * 0.25), tall * 0.07)
                elbow = (x - np.sin(a) * tall * 0.15, y - tall * 0.16)
                arms.line((x, y - tall * 0.32), elbow, tall * 0.055)
                arms.line(elbow, (elbow[0] - np.sin(a) * tall * 0.12, elbow[1] + tall * 0.12), tall * 0.05)
            body.line((x, y - tall * 0.02), (x, y - tall * 0.3), tall * 0.15)
            arms.disc((x, y - tall * 0.45), tall * 0.06)
            for sheet, colour in ((legs, p["dress"]), (body, p["coat"]), (arms, p["skin"])):
                frame += sheet.cover() * (colour - frame)
        return frame
    return draw


def ticker(random, size):
    """Lettering that runs along a band, or rolls over the whole frame."""
    width, height = size
    rolls = random.random() < 0.3
    font, scale = FONTS[int(random.integers(len(FONTS)))], random.uniform(0.35, 1.2)
    thick = random.uniform(0.8, 2.5)
    lines = ["".join(SIGNS[int(i)] if random.random() > 0.15 else " " for i in random.integers(0, len(SIGNS), 60)) for _ in range(24)]
    speed = float(random.choice([-1, 1])) * float(random.choice([0.5, 1, 2, 2, 3, 4, random.uniform(0.3, 7)]))
    top = random.uniform(0.1, 0.8) * height
    ink, ground = shade(random), shade(random)
    plain = random.random() < 0.7 and not rolls

    def draw(frame, t):
        sheet = Sheet(size)
        for n, text in enumerate(lines if rolls else lines[:1]):
            x, y = (20 - width * 0.3, 40 + 34 * scale * n + speed * t - height * 0.5) if rolls else (-width * 0.7 + speed * t, top + 26 * scale)
            at = tuple(int(round(v * FINER)) for v in (x, y))
            cv2.putText(sheet.mask, text, at, font, scale * FINER, 255, max(1, round(thick * FINER)), cv2.LINE_8)
        if plain:
            a, b = int(top), int(min(height, top + 36 * scale))
            frame[a:b] = ground
        frame += sheet.cover() * (ink - frame)
        return frame
    return draw


def spokes(random, size):
    """Wheels that turn."""
    width, height = size
    wheels = [{"x": random.uniform(0, width), "y": random.uniform(0, height), "r": height * random.uniform(0.15, 0.6),
               "n": int(random.integers(3, 24)), "turn": random.normal(0, 0.06), "go": random.normal(0, 1),
               "thick": random.uniform(0.7, 5), "ink": shade(random)} for _ in range(random.integers(1, 4))]

    def draw(frame, t):
        for w in wheels:
            sheet, at = Sheet(size), (w["x"] + w["go"] * t, w["y"])
            for k in range(w["n"]):
                a = 2 * np.pi * k / w["n"] + w["turn"] * t
                sheet.line(at, (at[0] + w["r"] * np.cos(a), at[1] + w["r"] * np.sin(a)), w["thick"])
            sheet.disc(at, w["r"], w["thick"] * 1.5)
            frame += sheet.cover() * (w["ink"] - frame)
        return frame
    return draw


def fence(random, size):
    """Posts or slats of one distance, upright or slanting or level, that pass before what is behind."""
    width, height = size
    period, share = random.uniform(5, 50), random.uniform(0.2, 0.7)
    tilt = random.normal(0, 0.3) if random.random() < 0.5 else 0.0
    level = random.random() < 0.2
    speed = random.normal(0, 4)
    first, last = sorted(random.uniform(0, 1, 2))
    ink = shade(random)

    def draw(frame, t):
        sheet = Sheet(size)
        reach = (height if level else width) + 2 * height
        for k in range(int(-height / period) - 1, int(reach / period) + 1):
            u = k * period + (speed * t) % period
            if level:
                sheet.line((first * width, u), (last * width, u + tilt * (last - first) * width), period * share)
            else:
                sheet.line((u, first * height), (u + tilt * (last - first) * height, last * height), period * share)
        frame += sheet.cover() * (ink - frame)
        return frame
    return draw


def thin(random, size):
    """Poles, wires and twigs before what may be flat."""
    width, height = size
    things = [{"a": random.uniform(-0.2, 1.2, 2) * size, "long": random.uniform(20, 300), "way": random.uniform(0, np.pi), "go": random.normal(0, 2.5, 2),
               "turn": random.normal(0, 0.01), "thick": random.uniform(0.5, 3), "ink": shade(random)} for _ in range(random.integers(3, 20))]
    flat = shade(random) if random.random() < 0.5 else None

    def draw(frame, t):
        if flat is not None:
            frame = np.broadcast_to(flat, frame.shape) + 0.15 * (frame - frame.mean())
        for thing in things:
            sheet, a = Sheet(size), thing["way"] + thing["turn"] * t
            at = thing["a"] + thing["go"] * t
            sheet.line(at, at + thing["long"] * np.array([np.cos(a), np.sin(a)]), thing["thick"])
            frame = frame + sheet.cover() * (thing["ink"] - frame)
        return frame
    return draw


def dots(random, size):
    """Balls, birds and lights: small things of their own ways, which look like grain that moves."""
    width, height = size
    things = [{"at": random.uniform(-0.1, 1.1, 2) * size, "go": random.normal(0, 3, 2), "r": random.uniform(0.7, 7), "ink": shade(random)}
              for _ in range(random.integers(3, 30))]

    def draw(frame, t):
        for thing in things:
            sheet = Sheet(size)
            sheet.disc(thing["at"] + thing["go"] * t, thing["r"])
            frame = frame + sheet.cover() * (thing["ink"] - frame)
        return frame
    return draw


KINDS = (walkers, walkers, ticker, spokes, fence, thin, dots)


def drawn_over(frames, random):
    """Frames (n, h, w, 3) with one kind of these drawn over them, on moving ground or on the first frame standing still."""
    size = frames.shape[2], frames.shape[1]
    draw = KINDS[int(random.integers(len(KINDS)))](random, size)
    still = random.random() < 0.5
    return np.stack([draw((frames[0] if still else frame).copy(), t) for t, frame in enumerate(frames)])
