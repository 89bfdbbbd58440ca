"""Write the trained networks as ONNX: `python -m training.export --work DIR`."""

from __future__ import annotations

import argparse
from pathlib import Path

import torch

from training.nets import NETS

MODELS = Path(__file__).parents[1] / "zinc_margin" / "pixels" / "models"


def export(what: str, work: Path) -> Path:
    """Write one network's steadied weights; its sides are left open, its kind of number float32."""
    net = NETS[what]().eval()
    net.load_state_dict(torch.load(work / f"{what}.pt", weights_only=False)["steady"])
    plane = torch.zeros(1, 1, 64, 64)
    given = (plane, torch.zeros(1, 2, 1, 1)) if what == "clean" else (plane,)
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
    return goal


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--work", type=Path, default=Path("training/work"))
    given = parser.parse_args()
    for name in NETS:
        if (given.work / f"{name}.pt").exists():
            path = export(name, given.work)
            print(f"{path.name}: {path.stat().st_size / 1000:.0f} kB")
