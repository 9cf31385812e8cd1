"""What all faces have in common, and in what a crowd differs most, for `src/core/people/likeness.ts`: "./run train crowd" writes crowd.json there."""

import json
import os
import subprocess

import cv2
import numpy as np

from faces import framed, warped
from heldOut import STRANGER, crowd
from sources import work_folder

HERE = os.path.dirname(os.path.abspath(__file__))
OUT = os.path.join(HERE, "..", "src", "core", "people", "crowd.json")
# Directions that are kept, and what is added to each one's variance, in means of all: few people tell the small ones badly.
DIRECTIONS, ADDED = 32, 4


def described():
    """Descriptors of the crowd, (2, people, d) of each network: in colour, and as photographs without it."""
    folder, out = os.path.join(work_folder(), "crowd"), os.path.join(work_folder(), "crowd.json")
    os.makedirs(folder, exist_ok=True)
    paths = []
    for n, face in enumerate(crowd()):
        picture = np.clip(np.rint(warped([face], framed(face), STRANGER)[0]), 0, 255).astype(np.uint8)
        for kind, shown in (("colour", picture), ("grey", np.repeat(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)[:, :, None], 3, 2))):
            paths.append(os.path.join(folder, f"{kind}-{n:02d}.png"))
            cv2.imwrite(paths[-1], shown[:, :, ::-1])
    subprocess.run(["npx", "tsx", os.path.join(HERE, "faceDescriptors.ts"), out, *sorted(paths)], check=True, cwd=os.path.dirname(HERE))
    with open(out) as file:
        return {name: np.array(rows).reshape(2, -1, len(rows[0])) for name, rows in json.load(file).items()}


def in_common(rows):
    """
    Of descriptors (2, people, d): their mean; the directions (DIRECTIONS, d) in which people vary most; and how much of each is kept, that of the others
    being 1, so that all vary alike (whitening of the shrunk covariance, after Hariharan et al., 2012).
    """
    apart = (rows - rows.mean(1, keepdims=True)).reshape(-1, rows.shape[2])
    variances, vectors = np.linalg.eigh(apart.T @ apart / len(apart))
    variances, vectors = variances[::-1], vectors[:, ::-1]
    kept = (variances + ADDED * variances.mean()) ** -0.5
    return {"mean": rows.mean((0, 1)), "directions": vectors[:, :DIRECTIONS].T, "kept": kept[:DIRECTIONS] / kept[DIRECTIONS]}


def write(told):
    rounded = {name: {key: np.round(values, 4).tolist() for key, values in parts.items()} for name, parts in told.items()}
    with open(OUT, "w") as out:
        # A line for each list of numbers.
        out.write(json.dumps(rounded, separators=(",", ":")).replace("],[", "],\n[").replace(":[", ":\n[") + "\n")


if __name__ == "__main__":
    write({name: in_common(rows) for name, rows in described().items()})
