"""Training for whole numbers: layers whose sums will be of 8-bit numbers learn with these.

Weights and inputs are rounded as the stored network has them; slopes pass as if they were not.

References
----------
B. Jacob et al., "Quantization and training of neural networks for efficient integer-arithmetic-only
inference", CVPR 2018.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

import torch
from torch import nn

IN_WHOLE_NUMBERS = {
    "twice": range(2, 16, 2),
    "fine": range(6, 20, 2),
    "blocks": (4, *range(10, 26, 2)),
    "mended": (4, *range(10, 18, 2)),
}
"""Layers of a network's chain whose sums are of 8-bit numbers; the others lose too much by it."""
_MOST = 63  # of a weight, so that two products fit 16 bits with their sign
_REACHED = 0.99999  # of a layer's numbers lie under what 255 stands for


def rounds(what: str, net: nn.Module) -> list[nn.Conv2d]:
    """Have inputs of a network's layers for whole numbers rounded from now on; return these."""
    layers = [net.chain[at] for at in IN_WHOLE_NUMBERS.get(what, ())]  # type: ignore[index]
    for layer in layers:
        layer.register_forward_pre_hook(_rounded)
    return layers


def _rounded(layer: nn.Module, given: tuple[torch.Tensor, ...]) -> tuple[torch.Tensor, ...]:
    (x,) = given
    with torch.no_grad():
        some = x.detach().flatten()[:: max(1, x.numel() // 200000)]
        step = torch.quantile(some, _REACHED) / 255 + 1e-9
        off = torch.clamp(torch.round(x / step), 0, 255) * step - x
    return (x + off,)


@contextmanager
def whole_weights(layers: list[nn.Conv2d]) -> Iterator[None]:
    """Have the layers' weights rounded within."""
    # behind the back of what counts changes: slopes are those of the rounded weights
    kept = [layer.weight.data.clone() for layer in layers]
    for layer in layers:
        step = layer.weight.data.abs().amax((1, 2, 3), keepdim=True) / _MOST + 1e-12
        layer.weight.data.copy_(torch.round(layer.weight.data / step) * step)
    yield
    for layer, weight in zip(layers, kept, strict=True):
        layer.weight.data.copy_(weight)
