"""Write the trained networks as ONNX: `python -m training.export --work DIR`."""

from __future__ import annotations

import argparse
from pathlib import Path

import numpy as np
import onnx
import torch
from onnx import helper, numpy_helper

from training.nets import NETS, SEEN

STRENGTHS = {"clean": 2, "blocks": 1}  # that a network is told
TOLD = {"mended": SEEN}  # planes of what cleaning saw
STORED_SMALL = ("blocks", "mended")
FEWEST_SMALL = 256
MODELS = Path(__file__).parents[1] / "zinc_margin" / "pixels" / "models"


def export(what: str, work: Path) -> Path:
    """Write one network's steadied weights; its sides are left open, its sums are in float32."""
    net = NETS[what]().eval()
    net.load_state_dict(torch.load(work / f"{what}.pt", weights_only=False)["steady"])
    given = {"plane": torch.zeros(1, 1, 64, 64)}
    sides = {"plane": {2: "h", 3: "w"}, "correction": {2: "ch", 3: "cw"}}
    gives = ["correction"]
    if what in STRENGTHS:
        given["strengths"] = torch.zeros(1, STRENGTHS[what], 1, 1)
    if what == "surfaces":
        given["noise"] = torch.zeros(1, 1, 64, 64)
        sides["noise"] = {2: "h", 3: "w"}
    if what in TOLD:
        given["seen"] = torch.zeros(1, TOLD[what], 32, 32)
    if isinstance(net(*given.values()), tuple):
        gives.append("seen")
    if what in TOLD or len(gives) > 1:
        sides["seen"] = {2: "sh", 3: "sw"}
    goal = MODELS / f"{what}.onnx"
    torch.onnx.export(
        net,
        tuple(given.values()),
        goal,
        input_names=list(given),
        output_names=gives,
        dynamic_axes=sides,
        opset_version=17,
        dynamo=False,
    )
    if what in STORED_SMALL:
        onnx.save(stored_small(onnx.load(goal)), goal)
    return goal


def stored_small(model: onnx.ModelProto) -> onnx.ModelProto:
    """Store layers' weights in 8 bits, with a scale for each of a layer's outputs.

    They are widened once, when the network is loaded: a quarter of the file, the same sums.
    """
    graph = model.graph
    widened, scales = [], []
    for weight in graph.initializer:
        numbers = numpy_helper.to_array(weight)
        if numbers.ndim != 4 or numbers.size < FEWEST_SMALL:
            continue
        name = weight.name
        scale = np.abs(numbers).max((1, 2, 3), keepdims=True) / 127
        codes = np.rint(numbers / np.maximum(scale, 1e-12)).astype(np.int8)
        weight.CopyFrom(numpy_helper.from_array(codes, f"{name}.codes"))
        scales.append(numpy_helper.from_array(scale.astype(np.float32), f"{name}.scale"))
        widened += [
            helper.make_node(
                "Cast", [f"{name}.codes"], [f"{name}.wide"], to=onnx.TensorProto.FLOAT
            ),
            helper.make_node("Mul", [f"{name}.wide", f"{name}.scale"], [name]),
        ]
    graph.initializer.extend(scales)
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
