"""Going on from the networks that ship: a later sitting need not begin at nothing.

A chain that has become deeper than the shipped one keeps what it knew: the layers that it has more
start as pass-throughs, which change nothing behind a rectifier.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np
import onnx
import torch
from onnx import numpy_helper
from torch import nn

MODELS = Path(__file__).parents[1] / "zinc_margin" / "pixels" / "models"


def shipped(what: str, net: nn.Module) -> None:
    """Fill `net` with the weights of the shipped network of that name.

    Raises
    ------
    ValueError
        The shipped chain is deeper or of another width.
    """
    stored = onnx.load(str(MODELS / f"{what}.onnx")).graph.initializer
    arrays = {each.name: numpy_helper.to_array(each) for each in stored}
    for name in [name.removesuffix(".codes") for name in arrays if name.endswith(".codes")]:
        arrays[name] = arrays.pop(f"{name}.codes") * arrays.pop(f"{name}.scale")
    for name in [name.removesuffix("_quantized") for name in arrays if name.endswith("_quantized")]:
        whole = arrays.pop(f"{name}_quantized")
        many = next(
            arrays[at] for at in (f"{name}_scale", f"{name}_quantized_scale") if at in arrays
        )
        arrays[name] = whole * many.reshape(-1, *[1] * (whole.ndim - 1)).astype(np.float32)
    if set(arrays) >= set(net.state_dict()):
        whole = {name: torch.from_numpy(arrays[name].copy()) for name in net.state_dict()}
        net.load_state_dict(whole)
        return
    places = sorted({int(name.split(".")[1]) for name in arrays if name.startswith("chain.")})
    found = [(arrays[f"chain.{at}.weight"], arrays[f"chain.{at}.bias"]) for at in places]
    layers = [layer for layer in net.modules() if isinstance(layer, nn.Conv2d)]
    more = len(layers) - len(found)
    if more < 0:
        raise ValueError(f"the shipped {what} has {-more} layers more than this one")
    width = found[0][0].shape[0]
    straight = np.zeros((width, width, 3, 3), np.float32)
    straight[np.arange(width), np.arange(width), 1, 1] = 1.0
    found[-1:-1] = [(straight, np.zeros(width, np.float32))] * more
    with torch.no_grad():
        for layer, (weight, bias) in zip(layers, found, strict=True):
            if layer.weight.shape != weight.shape:
                raise ValueError(f"a layer of the shipped {what} is {weight.shape}")
            layer.weight.copy_(torch.from_numpy(weight.copy()))
            assert layer.bias is not None
            layer.bias.copy_(torch.from_numpy(bias.copy()))
