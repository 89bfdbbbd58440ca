"""Steps of equal size in every direction that a layer knows.

The averaged slope of an inner convolution, seen as a matrix (outputs × inputs and taps), is brought
to its nearest matrix of orthonormal rows before it is followed: rare directions move as far as
common ones, and a small network learns in fewer steps.

References
----------
.. [1] K. Jordan et al., "Muon: an optimizer for hidden layers in neural networks", 2024.
.. [2] J. Liu et al., "Muon is scalable for LLM training", arXiv:2502.16982, 2025 (the scale that
   makes the steps as large as AdamW's).
"""

from __future__ import annotations

import torch

_ROUNDS = 5


def orthonormal(slope: torch.Tensor) -> torch.Tensor:
    """Return about the nearest matrix of orthonormal rows to (R, C), R ≤ C, by Newton–Schulz."""
    x = slope / (slope.norm() + 1e-7)
    for _ in range(_ROUNDS):
        square = x @ x.T
        x = 3.4445 * x + (-4.7750 * square + 2.0315 * square @ square) @ x
    return x


class Muon(torch.optim.Optimizer):
    """Muon for weights of inner convolutions (O, I, h, w) with O ≤ I·h·w."""

    def __init__(
        self, weights: list[torch.nn.Parameter], lr: float, momentum: float = 0.95
    ) -> None:
        super().__init__(weights, {"lr": lr, "momentum": momentum})

    @torch.no_grad()
    def step(self, closure: None = None) -> None:  # type: ignore[override]
        """Follow the slopes once."""
        for group in self.param_groups:
            for weight in group["params"]:
                state = self.state[weight]
                if "mean" not in state:
                    state["mean"] = torch.zeros_like(weight)
                mean = state["mean"]
                mean.lerp_(weight.grad, 1 - group["momentum"])
                ahead = weight.grad.lerp(mean, group["momentum"])
                flat = ahead.reshape(len(ahead), -1)
                step = orthonormal(flat).reshape(weight.shape)
                weight.add_(step, alpha=-group["lr"] * 0.2 * flat.shape[1] ** 0.5)
