"""
Held-out material for the bench, never seen in training: python3 heldOut.py writes made/held-stills.gray (crops of
photographs, 288 x 288) and made/held-clips.gray (clips of 9 frames of 320 x 256), 8-bit luma.
"""

import os

import cv2
import numpy as np

from degrade import to_ycc
from layers import clip
from samples import Library
from sources import collect, pictures, work_folder

SIDE = 288
# The held-out pictures that are whole photographs; figures, sheets of textures and the like would judge nothing.
PHOTOGRAPHS = ("Wood.jpg", "butterfly.jpg", "fruits.jpg", "leuvenA.jpg", "messi5.jpg", "scenetext06.jpg", "feature_building.jpg",
               "ColorfulCups", "seeding_by", "motion_original.jpg", "astra_color.jpg", "coins.jpg")
CLIPS, FRAMES, WIDTH, HEIGHT = 6, 9, 320, 256


def luma(rgb):
    return np.clip(np.rint(to_ycc(np.asarray(rgb))[:, :, 0]), 0, 255).astype(np.uint8)


def stills():
    """Middles of the photographs."""
    crops = []
    for p in pictures("photo", "held", names=PHOTOGRAPHS):
        if min(p.shape[:2]) < SIDE:
            continue
        y, x = (p.shape[0] - SIDE) // 2, (p.shape[1] - SIDE) // 2
        crops.append(luma(p[y:y + SIDE, x:x + SIDE]))
    return crops


def moving():
    random = np.random.default_rng(77)
    library = Library("held", 0.1)
    return [luma_of(clip(lambda: library.pick(random), random, FRAMES, (WIDTH, HEIGHT))) for _ in range(CLIPS)]


def luma_of(rgb):
    return np.stack([luma(np.clip(f, 0, 255)) for f in rgb])


if __name__ == "__main__":
    collect()
    np.concatenate([c.reshape(-1) for c in stills()]).tofile(os.path.join(work_folder(), "held-stills.gray"))
    np.concatenate([c.reshape(-1) for c in moving()]).tofile(os.path.join(work_folder(), "held-clips.gray"))
    sheet = np.concatenate([np.concatenate(stills()[n:n + 4], 1) for n in range(0, len(stills()) // 4 * 4, 4)], 0)
    cv2.imwrite(os.path.join(work_folder(), "held-stills.png"), sheet)
