"""A network in training: its optimisers, and the running mean of its weights, which is kept."""

from __future__ import annotations

from pathlib import Path

import torch
from torch import nn

from training.muon import Muon
from training.nets import NETS
from training.onward import shipped

_FEWEST = 32  # channels in and out of a layer that Muon is for
_WARMING = 100  # steps over which the rate rises


class Learner:
    """One network, with all that a stopped training goes on from.

    Parameters
    ----------
    what : str
        Its name in `NETS`.
    work : Path
        Where its checkpoint lies, or will.
    top : float
        The rate at the beginning.
    onward : bool
        Whether it begins with the shipped weights.
    """

    def __init__(self, what: str, work: Path, top: float, onward: bool) -> None:
        self.kept = work / f"{what}.pt"
        self.net = NETS[what]().to(memory_format=torch.channels_last)
        if onward:
            shipped(what, self.net)
        self.steady = NETS[what]()
        self.steady.load_state_dict(self.net.state_dict())
        self.top, self.steps, self.spent = top, 0, 0.0
        inner = [
            layer.weight
            for layer in self.net.modules()
            if isinstance(layer, nn.Conv2d)
            and layer.kernel_size == (3, 3)
            and min(layer.in_channels, layer.out_channels) >= _FEWEST
        ]
        self._rest = [p for p in self.net.parameters() if not any(p is w for w in inner)]
        self._optimisers = [
            Muon(inner, lr=top),
            torch.optim.AdamW(self._rest, lr=top, weight_decay=1e-4),
        ]
        if self.kept.exists():
            state = torch.load(self.kept, weights_only=False)
            self.net.load_state_dict(state["net"])
            self.steady.load_state_dict(state["steady"])
            for optimiser, held in zip(self._optimisers, state["optimisers"], strict=True):
                optimiser.load_state_dict(held)
            self.spent, self.steps = state["spent"], state["step"]

    def begin_with(self, clean: nn.Module) -> None:
        """Take over the chain of `clean`, which is told one strength more, and is no longer.

        Layers that only this chain has keep the weights they were begun with, near a pass-through.
        """
        known = {name: weight.clone() for name, weight in clean.state_dict().items()}
        known["chain.0.weight"] = known["chain.0.weight"][:, :-1]
        last, ours = (
            f"chain.{max(int(name.split('.')[1]) for name in of if name.startswith('chain.'))}."
            for of in (known, self.net.state_dict())
        )
        known = {name.replace(last, ours): weight for name, weight in known.items()}
        for net in (self.net, self.steady):
            net.load_state_dict(known, strict=False)

    def step(self, share: float) -> None:
        """Follow the slopes once, at a share of the top rate."""
        rate = self.top * share * min(1.0, (self.steps + 1) / _WARMING)
        torch.nn.utils.clip_grad_norm_(self._rest, 0.5)
        for optimiser in self._optimisers:
            for group in optimiser.param_groups:
                group["lr"] = rate
            optimiser.step()
        self.steps += 1
        keep = min(0.999, self.steps / (self.steps + 10))
        with torch.no_grad():
            for slow, quick in zip(self.steady.parameters(), self.net.parameters(), strict=True):
                slow.mul_(keep).add_(quick, alpha=1 - keep)

    def keep(self) -> None:
        """Write a checkpoint, whole or not at all."""
        state = {
            "net": self.net.state_dict(),
            "steady": self.steady.state_dict(),
            "optimisers": [optimiser.state_dict() for optimiser in self._optimisers],
            "spent": self.spent,
            "step": self.steps,
        }
        beside = self.kept.with_suffix(".part")
        torch.save(state, beside)
        beside.replace(self.kept)
