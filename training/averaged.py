"""
Means of the weights that several trainings of one network ended at (model soups, Wortsman et al., 2022): what each unlearned the others still know.
`averaged.py NAME CHECKPOINT ...` writes the checkpoint of NAME, from which it is exported or trained on.
"""

import os
import sys

import torch

from sources import work_folder
from tasks import TASKS
from train import configuration, evaluate, held_batches, save


def mean_of(checkpoints):
    """The last of checkpoints with the mean of the weights of all; steps and pictures are the last one's, which was trained on from the others."""
    states = [checkpoint["smoothed"] for checkpoint in checkpoints]
    if any(state.keys() != states[0].keys() for state in states):
        raise SystemExit("These checkpoints are not of one network.")
    weights = {key: sum(state[key] for state in states) / len(states) for key in states[0]}
    return {**checkpoints[-1], "network": weights, "smoothed": {key: value.clone() for key, value in weights.items()}}


def average(name, files):
    made = mean_of([torch.load(file) for file in files])
    config = configuration(name)
    task = TASKS[config["task"]](config)
    network = task.network()
    network.load_state_dict(made["smoothed"])
    made["history"] = [*made["history"], {"step": made["step"], **evaluate(task, network, held_batches(task, config))}]
    save(os.path.join(work_folder(), f"{name}.pt"), made)


if __name__ == "__main__":
    if len(sys.argv) < 4:
        raise SystemExit("usage: averaged.py NAME CHECKPOINT CHECKPOINT ...")
    average(sys.argv[1], sys.argv[2:])
