"""Write the trained networks as ONNX: `python -m training.export --work DIR`."""

from __future__ import annotations

import argparse
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import onnx
import torch
from onnx import helper, numpy_helper
from onnxruntime.quantization import (
    CalibrationDataReader,
    CalibrationMethod,
    QuantFormat,
    QuantType,
    quantize_static,
)

from training.damage import jpeg, jpeg_strength
from training.nets import NETS, SEEN
from training.pictures import LUMA, gathered
from training.rounded import IN_WHOLE_NUMBERS

STRENGTHS = {"clean": 2, "blocks": 1}  # that a network is told
TOLD = {"mended": SEEN}  # planes of what cleaning saw
STORED_SMALL = ("blocks", "mended")
TRIED, TRIED_SIDE = 16, 128  # pictures that tell how large their numbers grow
MOST_WEIGHT = 64
QUALITIES = (25, 35, 40, 50, 60, 75, 85)
FEWEST_SMALL = 256
MODELS = Path(__file__).parents[1] / "zinc_margin" / "pixels" / "models"


def export(what: str, work: Path) -> Path:
    """Write one network's steadied weights; its sides are left open."""
    net = _steady(what, work)
    given = {"plane": torch.zeros(1, 1, 64, 64)}
    sides = {"plane": {2: "h", 3: "w"}, "correction": {2: "ch", 3: "cw"}}
    gives = ["correction"]
    if what in STRENGTHS:
        given["strengths"] = torch.zeros(1, STRENGTHS[what], 1, 1)
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
    if what in IN_WHOLE_NUMBERS:
        in_whole_numbers(what, goal, work)
    if what in STORED_SMALL:
        onnx.save(stored_small(onnx.load(goal)), goal)
    return goal


def _steady(what: str, work: Path) -> torch.nn.Module:
    net = NETS[what]().eval().requires_grad_(False)
    net.load_state_dict(torch.load(work / f"{what}.pt", weights_only=False)["steady"])
    return net


def in_whole_numbers(what: str, path: Path, work: Path) -> None:
    """Have a network's inner layers sum 8-bit numbers, in place.

    Weights have 7 bits, so that two products fit a number of 16 with its sign: processors that
    have nothing better add them in such, and come out the same as those that do.
    """
    model = onnx.load(path)
    for at, node in enumerate(model.graph.node):
        node.name = node.name or f"node.{at}"
    onnx.save(model, path)
    ends = tuple(f"/chain.{at}/Conv" for at in IN_WHOLE_NUMBERS[what])
    layers = [node for node in model.graph.node if node.name.endswith(ends)]
    if len(layers) != len(ends):
        raise ValueError(f"{what} has other layers than {ends}")
    sums = {node.output[0] for node in layers}
    behind = [
        node.name for node in model.graph.node if node.op_type == "Relu" and node.input[0] in sums
    ]
    quantize_static(
        path,
        path,
        _Tried(what, work),
        quant_format=QuantFormat.QDQ,
        nodes_to_quantize=[*(node.name for node in layers), *behind],
        per_channel=True,
        reduce_range=True,
        activation_type=QuantType.QUInt8,
        weight_type=QuantType.QInt8,
        calibrate_method=CalibrationMethod.Percentile,
    )
    for weight in onnx.load(path).graph.initializer:
        numbers = numpy_helper.to_array(weight)
        if numbers.dtype == np.int8 and np.abs(numbers.astype(int)).max() > MOST_WEIGHT:
            raise ValueError(f"{weight.name} of {what} needs more than 7 bits")


class _Tried(CalibrationDataReader):
    """What a network is given to see how large its numbers grow."""

    def __init__(self, what: str, work: Path) -> None:
        self._given = iter(list(_given(what, work)))

    def get_next(self) -> dict[str, np.ndarray] | None:
        return next(self._given, None)


def _given(what: str, work: Path) -> Iterator[dict[str, Any]]:
    pictures = [one for one in gathered(work) if min(one.shape[:2]) >= TRIED_SIDE]
    cleaner = _steady("blocks", work) if what == "mended" else None
    for at, picture in enumerate(pictures[:: len(pictures) // TRIED][:TRIED]):
        part = picture[:TRIED_SIDE, :TRIED_SIDE].astype(np.float32)
        plane = (part @ LUMA.astype(np.float32) / 255)[None, None]
        if what in ("twice", "fine"):
            yield {"plane": plane}
            continue
        quality = QUALITIES[at % len(QUALITIES)]
        hurt = jpeg(plane[0, 0], quality)[None, None].astype(np.float32)
        strength = np.full((1, 1, 1, 1), jpeg_strength(quality), np.float32)
        if cleaner is None:
            yield {"plane": hurt, "strengths": strength}
            continue
        change, seen = cleaner(torch.from_numpy(hurt), torch.from_numpy(strength))
        yield {"plane": hurt + change.numpy(), "seen": seen.numpy()}


def stored_small(model: onnx.ModelProto) -> onnx.ModelProto:
    """Store layers' weights in 8 bits, with a scale for each of a layer's outputs.

    They are widened once, when the network is loaded: a quarter of the file, the same sums.
    """
    graph = model.graph
    widened, scales = [], []
    for weight in graph.initializer:
        numbers = numpy_helper.to_array(weight)
        if numbers.dtype != np.float32 or numbers.ndim != 4 or numbers.size < FEWEST_SMALL:
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
