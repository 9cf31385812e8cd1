"""Textures of games whose file names say what they are of."""

import os
import re

from sources import decode, files_of, held_out, kind_of, looks

# Things, and the words in a file's name that say so. Where two fit, the first: a wall of bricks is bricks.
NAMES = {
    "brick": "bricks?|ziegel",
    "foliage": "grass|lea[fv]e?s?|trees?|bush|hedge|ivy|fern|moss|forest|foliage|flowers?|plants?|palm",
    "sky": "sky|skies|clouds?",
    "water": "water|sea|ocean|lake|river",
    "wood": "wood(en)?|planks?|bark|timber|parquet|logs?|crates?",
    "cloth": "cloth|carpet|fabric|curtains?|rug|canvas|sofa|couch|bed",
    "earth": "sand|dirt|earth|soil|mud|ground|desert|beach",
    "stone": "stones?|rocks?|rocky|concrete|crete|cobble|gravel|paving|pavement|marble|granite|asphalt|cliff",
}
PACKAGES = ("ufoai-textures", "nexuiz-textures", "supertuxkart-data", "torcs-data")
# What a surface is like beside its colour: such files are no pictures.
NO_PICTURE = re.compile(r"(^|[^a-z])(norm(al)?s?|nm|nrm|bump|gloss|spec(ular)?|mask|alpha|glow|icon|height|rough|metallic|ao|shadow|logo|lightmap|data)($|[^a-z])")
# Textures of one thing and one package at most, their least side, and how much two differ at least.
MOST, LEAST_SIDE, SAME_LOOK = 60, 120, 0.12


def name_of(path):
    """What a texture is of by its file's name: a place in NAMES; None where the name does not say."""
    stem = os.path.splitext(re.split(r"[/:]", path)[-1])[0]
    # Capitals and numbers part words too.
    words = re.sub(r"(?<=[a-z])(?=[A-Z])|[^A-Za-z]+", " ", stem).lower()
    if NO_PICTURE.search(words):
        return None
    return next((n for n, said in enumerate(NAMES.values()) if re.search(rf"\b({said})\b", words)), None)


def named_textures(part):
    """By package: pairs of a texture (h, w, 3) of 8-bit RGB and its place in NAMES; one in eight is held out by the SHA-256 of its name."""
    found, seen = {package: [] for package in PACKAGES}, []
    for package in PACKAGES:
        counts = [0] * len(NAMES)
        for path, data in files_of(package):
            name = name_of(path)
            if name is None or counts[name] >= MOST or held_out(path) != (part == "held"):
                continue
            rgb = decode(data)
            if rgb is None or min(rgb.shape[:2]) < LEAST_SIDE or kind_of(rgb) is None:
                continue
            look = looks(rgb)
            if any(float(abs(look - other).mean()) < SAME_LOOK for other in seen):
                continue
            seen.append(look)
            counts[name] += 1
            found[package].append((rgb, name))
    return found
