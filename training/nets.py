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


class Step(nn.Module):
    """Two convolutions, whose outcome is added to what they were given."""

    def __init__(self, width: int) -> None:
        super().__init__()
        one, two = (nn.Conv2d(width, width, 3, padding=1) for _ in "12")
        with torch.no_grad():
            two.weight.mul_(0.3)
            nn.init.zeros_(one.bias)
            nn.init.zeros_(two.bias)
        self.found = nn.Sequential(one, nn.ReLU(), two)

    def forward(self, planes: torch.Tensor) -> torch.Tensor:
        """Return the planes with what was found."""
        return planes + self.found(planes)


def _stepped(inputs: int, width: int, steps: int) -> nn.Sequential:
    first = nn.Conv2d(inputs, width, 3, padding=1)
    return nn.Sequential(first, *(Step(width) for _ in range(steps)))


TOLD_AGAIN_LAYER = 4  # of the chain of `Blocks`
TOLD_LAYERS = (0, 4)  # of the chain of `Mended`


class Twice(nn.Module):
    """Luma (N, 1, H, W) in, the correction to a classical ×2 enlargement (N, 1, 2H, 2W) out."""

    def __init__(self, width: int, depth: int) -> None:
        super().__init__()
        self.chain = _chain(1, width, depth, 4, first=5)

    def forward(self, luma: torch.Tensor) -> torch.Tensor:
        """Return the correction."""
        return F.pixel_shuffle(self.chain(luma - 0.5), 2)


class Repaired(nn.Module):
    """Luma that was cleaned in, the correction to its classical ×2 enlargement out.

    It is told what cleaning saw, `seen` planes at half the size: steps at that size, where one
    looks twice as far for a quarter of the work, think it over with the luma, tell a chain like
    `Twice`'s at its first layer and in its middle, and add to the outcome themselves.
    """

    def __init__(self, width: int, depth: int, seen: int, steps: int) -> None:
        super().__init__()
        self.chain = _chain(1, width, depth, 4, first=5)
        self.thinking = _stepped(seen + 4, seen, steps)
        self.told = nn.ModuleList(nn.Conv2d(seen, 4 * width, 1, bias=False) for _ in TOLD_LAYERS)
        self.direct = nn.Conv2d(seen, 16, 3, padding=1)
        with torch.no_grad():
            for each in (*self.told, self.direct):
                nn.init.zeros_(each.weight)

    def forward(self, luma: torch.Tensor, seen: torch.Tensor | None = None) -> torch.Tensor:
        """Return the correction; where nothing is known of what was seen, that is nought."""
        x = luma - 0.5
        half = F.pixel_unshuffle(x, 2)
        if seen is None:
            seen = half.new_zeros(len(half), self.direct.in_channels, *half.shape[2:])
        thought = self.thinking(torch.cat([seen, half], 1))
        for at, layer in enumerate(self.chain):
            x = layer(x)
            if at / 2 in TOLD_LAYERS:
                told = self.told[TOLD_LAYERS.index(at // 2)]
                x = x + F.pixel_shuffle(told(thought), 2)
        return F.pixel_shuffle(x, 2) + F.pixel_shuffle(self.direct(thought), 4)


class Clean(nn.Module):
    """A damaged plane and two strengths in, the correction that cleans it out.

    Works at half the resolution on four interleaved planes: JPEG blocks are eight pixels wide and
    noise needs neighbours, so reach matters more than the last bit of detail.
    """

    def __init__(self, width: int, depth: int) -> None:
        super().__init__()
        self.chain = _chain(4 + 2, width, depth, 4)

    def forward(self, plane: torch.Tensor, strengths: torch.Tensor) -> torch.Tensor:
        """Return the correction; `strengths` is (N, 2, 1, 1)."""
        half = F.pixel_unshuffle(plane - 0.5, 2)
        told = strengths.expand(-1, -1, half.shape[2], half.shape[3])
        return F.pixel_shuffle(self.chain(torch.cat([half, told], 1)), 2)


class Blocks(nn.Module):
    """A plane out of a JPEG and one strength in, the correction that takes its squares away out.

    The plane begins where a square does, and has whole squares: so every place knows where in its
    square it is, and what the coding of that square can have done to it. A chain at half the
    resolution, like `Clean`'s, is told what two others saw at a quarter (two by two places a
    square) and at an eighth (one place a square), which cost little and look far. These are made of
    so many steps that add what they found: as bare chains they fell silent in training.
    """

    def __init__(
        self, width: int, depth: int, quarter: tuple[int, int], eighth: tuple[int, int]
    ) -> None:
        super().__init__()
        self.eighth = _stepped(64 + 1, *eighth)
        self.from_eighth = nn.Conv2d(eighth[0], 4 * 24, 1)
        self.quarter = _stepped(16 + 24, *quarter)
        self.from_quarter = nn.Conv2d(quarter[0], 4 * 16, 1)
        self.chain = _chain(4 + 1, width, depth, 4)
        self.told = nn.Conv2d(16, width, 3, padding=1, bias=False)
        self.told_again = nn.Conv2d(16, width, 1)
        with torch.no_grad():
            self.told.weight.mul_(0.2)
            self.told_again.weight.mul_(0.2)
        self.by_place = nn.Parameter(torch.zeros(1, width, 4, 4))  # in the square

    def forward(
        self, plane: torch.Tensor, strength: torch.Tensor
    ) -> tuple[torch.Tensor, torch.Tensor]:
        """Return the correction, and what was seen, (N, width, H/2, W/2), for the enlarger.

        `strength` is (N, 1, 1, 1).
        """
        plane = plane - 0.5
        coarse = F.pixel_unshuffle(plane, 8)
        asked = strength.expand(-1, -1, coarse.shape[2], coarse.shape[3])
        seen = F.pixel_shuffle(self.from_eighth(self.eighth(torch.cat([coarse, asked], 1))), 2)
        seen = self.quarter(torch.cat([F.pixel_unshuffle(plane, 4), seen], 1))
        seen = F.pixel_shuffle(self.from_quarter(seen), 2)
        half = F.pixel_unshuffle(plane, 2)
        asked = strength.expand(-1, -1, half.shape[2], half.shape[3])
        first, *others, last = self.chain  # a rectifier comes next
        place = self.by_place.repeat(1, 1, half.shape[2] // 4, half.shape[3] // 4)
        x = first(torch.cat([half, asked], 1)) + self.told(seen) + place
        for at, layer in enumerate(others, 1):
            x = layer(x)
            if at / 2 == TOLD_AGAIN_LAYER:
                x = x + self.told_again(seen)
        return F.pixel_shuffle(last(x), 2), x


SEEN = 48  # planes that `blocks` tells `mended`

NETS = {
    "blocks": lambda: Blocks(SEEN, 12, quarter=(80, 3), eighth=(64, 3)),
    "clean": lambda: Clean(48, 10),
    "twice": lambda: Twice(32, 8),
    "fine": lambda: Twice(48, 9),
    "mended": lambda: Repaired(32, 8, SEEN, steps=6),
    "letters": lambda: Twice(32, 5),
}
