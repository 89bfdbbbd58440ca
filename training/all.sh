#!/bin/sh
# Train everything and write the networks into the program.
set -eu
cd "$(dirname "$0")/.."
python=${PYTHON:-.training/bin/python}
for part in "twice 78" "clean 90" "mended 30" "blocks 270" "letters 26" "fine 92"; do
    set -- $part
    "$python" -m training.train "$1" --minutes "$2"
done
"$python" -m training.export
