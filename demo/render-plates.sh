#!/usr/bin/env bash
# Renders the demo's scenes with POV-Ray (package povray, povray-includes) into demo/plates/. Takes about half an hour.
set -euo pipefail
cd "$(dirname "$0")/scenes"
render() { povray +I"$1.pov" +O"../plates/$1.png" +W"$2" +H"$3" +A0.15 +AM2 +R3 -D +WT1 "${@:4}" >/dev/null 2>&1; }
render child 500 500 +UA
render boat 900 900 +UA
render bench 1500 1125
render lane 1500 900
render harbour 2200 900
