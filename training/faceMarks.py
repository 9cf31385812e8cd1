"""What makes a face one person's, drawn on faces that are nobody's: the network must leave it where it is. (bench/facesKept.ts draws its own.)"""

import cv2
import numpy as np

# Drawn at so many times the size, then reduced.
FINE = 4
# Places in parts of the frame: the eyes (src/core/faces/frame.ts).
EYES = ((0.345, 0.41), (0.655, 0.41))


def with_marks(picture, random):
    """A face in its frame (side, side, 3), RGB over 255, with glasses, scars or moles."""
    side = picture.shape[0]
    large = np.zeros((FINE * side, FINE * side), np.uint8)
    out = picture
    if random.random() < 0.5:
        _glasses(large, random)
        out = _inked(out, large, _frame_colour(random), random.uniform(0.6, 1))
    for _ in range(int(random.integers(0, 4))):
        large[:] = 0
        tone = out.reshape(-1, 3).mean(0) * random.uniform(0.3, 1.8) + random.normal(0, 10, 3)
        (_scar if random.random() < 0.4 else _mole)(large, random)
        out = _inked(out, large, tone, random.uniform(0.4, 0.95))
    return out


def _inked(picture, large, colour, opacity):
    side = picture.shape[0]
    share = opacity * cv2.resize(large, (side, side), interpolation=cv2.INTER_AREA).astype(np.float32)[:, :, None] / 255
    return picture * (1 - share) + np.clip(colour, 0, 255).astype(np.float32) * share


def _frame_colour(random):
    return random.choice([20, 45, 90, 150, 215]) + random.normal(0, 15, 3)


def _glasses(large, random):
    side = large.shape[0]
    width = max(1, int(random.uniform(0.006, 0.026) * side))
    rx, ry = random.uniform(0.085, 0.135), random.uniform(0.06, 0.12)
    down, square = random.uniform(-0.005, 0.035), random.random() < 0.4
    for x, y in EYES:
        middle = int(x * side), int((y + down) * side)
        if square:
            corner = int(rx * side), int(ry * side)
            cv2.rectangle(large, (middle[0] - corner[0], middle[1] - corner[1]), (middle[0] + corner[0], middle[1] + corner[1]), 255, width)
        else:
            cv2.ellipse(large, middle, (int(rx * side), int(ry * side)), 0, 0, 360, 255, width)
    y = EYES[0][1] + down - random.uniform(0, ry / 2)
    for a, b in ((EYES[0][0] + rx, EYES[1][0] - rx), (EYES[0][0] - rx, 0.08), (EYES[1][0] + rx, 0.92)):
        cv2.line(large, (int(a * side), int(y * side)), (int(b * side), int((y - (0.03 if b in (0.08, 0.92) else 0)) * side)), 255, width)


def _scar(large, random):
    side = large.shape[0]
    at, angle = random.uniform(0.25, 0.75, 2), random.uniform(0, np.pi)
    way = np.array([np.cos(angle), np.sin(angle)])
    along = np.linspace(0, random.uniform(0.05, 0.2), 12)
    bent = random.normal(0, 1.5)
    points = at + along[:, None] * way + (bent * along**2)[:, None] * np.array([-way[1], way[0]])
    cv2.polylines(large, [np.int32(points * side)], False, 255, max(1, int(random.uniform(0.006, 0.022) * side)))


def _mole(large, random):
    side = large.shape[0]
    x, y = np.int32(random.uniform(0.22, 0.78, 2) * side)
    cv2.circle(large, (int(x), int(y)), max(1, int(random.uniform(0.006, 0.02) * side)), 255, -1)
