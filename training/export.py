"""Write the trained networks as ONNX: `python -m training.export --work DIR`."""

from __future__ import annotations

import argparse
from pathlib import Path

import numpy as np
import onnx
import torch
from onnx import helper, numpy_helper

from training.nets import NETS

STRENGTHS = {"clean": 2, "blocks": 1}  # that a network is told
HALF_STORED = ("blocks",)
FEWEST_HALVED = 64
MODELS = Path(__file__).parents[1] / "zinc_margin" / "pixels" / "models"


def export(what: str, work: Path) -> Path:
    """Write one network's steadied weights; its sides are left open, its sums are in float32."""
    net = NETS[what]().eval()
    net.load_state_dict(torch.load(work / f"{what}.pt", weights_only=False)["steady"])
    plane = torch.zeros(1, 1, 64, 64)
    strengths = STRENGTHS.get(what, 0)
    given = (plane, torch.zeros(1, strengths, 1, 1)) if strengths else (plane,)
    goal = MODELS / f"{what}.onnx"
    torch.onnx.export(
        net,
        given,
        goal,
        input_names=["plane", "strengths"][: len(given)],
        output_names=["correction"],
        dynamic_axes={"plane": {2: "h", 3: "w"}, "correction": {2: "ch", 3: "cw"}},
        opset_version=17,
        dynamo=False,
    )
    if what in HALF_STORED:
        onnx.save(half_stored(onnx.load(goal)), goal)
    return goal


def half_stored(model: onnx.ModelProto) -> onnx.ModelProto:
    """Store weights in 16 bits: half the file; they are widened once, when it is loaded."""
    graph = model.graph
    widened = []
    for weight in graph.initializer:
        numbers = numpy_helper.to_array(weight)
        if numbers.dtype != np.float32 or numbers.size < FEWEST_HALVED:
            continue
        name = weight.name
        weight.CopyFrom(numpy_helper.from_array(numbers.astype(np.float16), f"{name}.half"))
        widened.append(
            helper.make_node("Cast", [f"{name}.half"], [name], to=onnx.TensorProto.FLOAT)
        )
    nodes = [*widened, *graph.node]
    del graph.node[:]
    graph.node.extend(nodes)
    onnx.checker.check_model(model)
    return model


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--work", type=Path, default=Path("training/work"))
    given = parser.parse_args()
    for name in NETS:
        if (given.work / f"{name}.pt").exists():
            path = export(name, given.work)
            print(f"{path.name}: {path.stat().st_size / 1000:.0f} kB")
