"""Channels that fell silent in training are begun anew.

A rectified channel whose bias has sunk so far that nothing lifts it above nought has no slopes any
more: it stays silent, and its weights are lost to the network. It gets new weights in and none
out, so that nothing changes at first and it can learn again.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import NamedTuple

import torch
from torch import nn

from training.nets import TOLD_AGAIN_LAYER, TOLD_LAYERS, Blocks, Repaired, Step


class Place(NamedTuple):
    """A rectifier, the layer before it, what else is added there, and what reads it.

    `added` begin with a dimension of channels; `readers` have it second.
    """

    rectifier: nn.Module
    layer: nn.Conv2d
    added: list[torch.Tensor]
    readers: list[torch.Tensor]


def places(net: nn.Module, listener: nn.Module | None = None) -> Iterator[Place]:
    """Return every rectifier of a network; what `blocks` sees last, a `listener` is told too."""
    for step in net.modules():
        if isinstance(step, Step):
            one, rectifier, two = step.found
            yield Place(rectifier, one, [], [two.weight.data])
    added: dict[int, list[torch.Tensor]] = {}
    heard_by: list[torch.Tensor] = []
    if isinstance(net, Blocks):
        again = net.told_again
        assert again.bias is not None
        added = {
            0: [net.told.weight.data, net.by_place.data[0]],
            TOLD_AGAIN_LAYER: [again.weight.data, again.bias.data],
        }
        if isinstance(listener, Repaired):
            heard_by = [listener.thinking[0].weight.data]
    elif isinstance(net, Repaired):
        for at, told in zip(TOLD_LAYERS, net.told, strict=True):
            # four neighbouring planes of what is told become one channel
            added[at] = [told.weight.data.unflatten(0, (-1, 4))]
    chain = list(net.chain)
    layers, rectifiers = chain[::2], chain[1::2]
    for at, (layer, rectifier) in enumerate(zip(layers, rectifiers, strict=False)):
        readers = [layers[at + 1].weight.data]
        if layers[at + 1] is chain[-1]:
            readers += heard_by
        yield Place(rectifier, layer, added.get(at, []), readers)


@contextmanager
def _heard(found: list[Place]) -> Iterator[list[torch.Tensor]]:
    """The loudest that each channel of each place becomes meanwhile."""
    loudest = [torch.zeros(place.layer.out_channels) for place in found]

    def listening(at: int) -> Callable[..., None]:
        def hook(module: nn.Module, given: object, planes: torch.Tensor) -> None:
            loudest[at] = torch.maximum(loudest[at], planes.amax((0, 2, 3)))

        return hook

    hooks = [p.rectifier.register_forward_hook(listening(at)) for at, p in enumerate(found)]
    yield loudest
    for hook in hooks:
        hook.remove()


@torch.no_grad()
def revive(found: list[Place], steady: list[Place], ask: Callable[[], None]) -> int:
    """Begin silent channels anew, alike in a network and in the running mean of its weights.

    Parameters
    ----------
    found, steady : list of Place
        Of the one and of the other.
    ask : callable
        Asks the network about a dozen batches.

    Returns
    -------
    int
        How many were silent.
    """
    with _heard(found) as loudest:
        ask()
    count = 0
    for place, mean, loud in zip(found, steady, loudest, strict=True):
        silent = (loud <= 0).nonzero().flatten().tolist()
        speaking = (loud > 0).nonzero().flatten()
        count += len(silent)
        if not silent or not len(speaking):
            continue
        size = place.layer.weight[speaking].flatten(1).norm(dim=1).median()
        for channel in silent:
            weights = torch.randn_like(place.layer.weight[channel])
            weights *= size / weights.norm()
            for each in (place, mean):
                assert each.layer.bias is not None
                each.layer.weight[channel] = weights
                each.layer.bias[channel] = 0
                for more in each.added:
                    more[channel] = 0
                for reader in each.readers:
                    reader[:, channel] = 0
    return count
