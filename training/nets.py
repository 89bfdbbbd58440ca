"""The networks: plain chains of 3 × 3 convolutions, which every processor runs well.

An identity is part of every inner layer's starting weights, so a chain begins as a pass-through and
trains like a residual network while it costs no addition when it runs.

References
----------
.. [1] W. Shi et al., "Real-time single image and video super-resolution using an efficient
   sub-pixel convolutional neural network", CVPR 2016 (sub-pixel output).
"""

from __future__ import annotations

import torch
from torch import nn
from torch.nn import functional as F


def _chain(inputs: int, width: int, depth: int, outputs: int, first: int = 3) -> nn.Sequential:
    layers: list[nn.Module] = [nn.Conv2d(inputs, width, first, padding=first // 2), nn.ReLU()]
    for _ in range(depth):
        inner = nn.Conv2d(width, width, 3, padding=1)
        with torch.no_grad():
            inner.weight.mul_(0.4)
            nn.init.zeros_(inner.bias)
            for c in range(width):
                inner.weight[c, c, 1, 1] += 1.0
        layers += [inner, nn.ReLU()]
    last = nn.Conv2d(width, outputs, 3, padding=1)
    with torch.no_grad():
        last.weight.mul_(0.1)
        nn.init.zeros_(last.bias)
    return nn.Sequential(*layers, last)


class Twice(nn.Module):
    """Luma (N, 1, H, W) in, the correction to a classical ×2 enlargement (N, 1, 2H, 2W) out."""

    def __init__(self, width: int, depth: int) -> None:
        super().__init__()
        self.chain = _chain(1, width, depth, 4, first=5)
        self.reach = 2 + depth + 1  # input pixels that one output looks past its place

    def forward(self, luma: torch.Tensor) -> torch.Tensor:
        """Return the correction."""
        return F.pixel_shuffle(self.chain(luma - 0.5), 2)


class Clean(nn.Module):
    """A damaged plane and two strengths in, the correction that cleans it out.

    Works at half the resolution on four interleaved planes: JPEG blocks are eight pixels wide and
    noise needs neighbours, so reach matters more than the last bit of detail.
    """

    def __init__(self, width: int, depth: int) -> None:
        super().__init__()
        self.chain = _chain(4 + 2, width, depth, 4)
        self.reach = 2 * (depth + 2)

    def forward(self, plane: torch.Tensor, strengths: torch.Tensor) -> torch.Tensor:
        """Return the correction; `strengths` is (N, 2, 1, 1)."""
        half = F.pixel_unshuffle(plane - 0.5, 2)
        told = strengths.expand(-1, -1, half.shape[2], half.shape[3])
        return F.pixel_shuffle(self.chain(torch.cat([half, told], 1)), 2)


NETS = {
    "clean": lambda: Clean(48, 10),
    "twice": lambda: Twice(32, 8),
    "fine": lambda: Twice(48, 9),
    "mended": lambda: Twice(32, 8),
    "letters": lambda: Twice(32, 5),
}
