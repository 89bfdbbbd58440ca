"""Train one of the networks: `python -m training.train clean|twice|fine|letters --minutes 40`.

The schedule is laid over the time given, checkpoints are written every two minutes, and a run that
was stopped goes on from its checkpoint.
"""

from __future__ import annotations

import argparse
import math
import time
from pathlib import Path

import numpy as np
import torch

from training.damage import blur, halve, lanczos_twice, worn
from training.drawings import drawing, grating
from training.muon import Muon
from training.nets import NETS
from training.onward import shipped
from training.pictures import gathered

BATCH = 16
SIDE = 54  # input pixels of a patch, after the rim is cut off
RIM = 5
TOP_RATE = 2e-3
ONWARD_RATE = 4e-4  # for weights that are good already
LAST_SHARE = 0.007  # of the rate, at the end
ENLARGERS = ("twice", "fine", "mended")  # of photographs


class Patches:
    """Patches of the training pictures: half with a weight on detail, half from anywhere.

    Out-of-focus ground has to be met as often as photographs show it: a network that hardly knows
    it takes softness for blur that ought to be undone.
    """

    def __init__(self, pictures: list[np.ndarray], random: np.random.Generator) -> None:
        self.pictures = pictures
        self.random = random
        self.chances = []
        areas = np.array([picture.size for picture in pictures], float)
        self.areas = areas / areas.sum()
        for picture in pictures:
            down, across = np.gradient(picture)
            energy = np.sqrt(down**2 + across**2)
            cells = energy[: len(energy) // 32 * 32, : energy.shape[1] // 32 * 32]
            cells = cells.reshape(cells.shape[0] // 32, 32, -1, 32).mean((1, 3))
            weight = (cells + 0.004) ** 0.7
            self.chances.append((weight / weight.sum(), float(weight.sum())))
        total = np.array([c[1] for c in self.chances])
        self.share = total / total.sum()

    def one(self, side: int) -> np.ndarray:
        """One patch (side, side), turned, mirrored and re-toned at random."""
        random = self.random
        anywhere = random.random() < 0.5
        which = random.choice(len(self.pictures), p=self.areas if anywhere else self.share)
        picture, (weight, _) = self.pictures[which], self.chances[which]
        cell = random.choice(weight.size, p=None if anywhere else weight.ravel())
        y, x = (32 * c + int(random.integers(32)) for c in divmod(int(cell), weight.shape[1]))
        y = int(np.clip(y - side // 2, 0, picture.shape[0] - side))
        x = int(np.clip(x - side // 2, 0, picture.shape[1] - side))
        patch = picture[y : y + side, x : x + side]
        patch = np.rot90(patch, int(random.integers(4)))
        if random.random() < 0.5:
            patch = patch[:, ::-1]
        if random.random() < 0.3:
            patch = 1 - patch
        if random.random() < 0.5:
            patch = np.clip(patch, 0, 1) ** float(np.exp(random.normal(0, 0.3)))
        return np.ascontiguousarray(patch, np.float32)


def batch(
    what: str, patches: Patches, net: torch.nn.Module, cleaner: torch.nn.Module | None
) -> tuple[torch.Tensor, ...]:
    """Inputs, strengths and goal of one step."""
    random = patches.random
    side = 2 * (SIDE + 2 * RIM)
    drawn = 1.0 if what == "letters" else 0.05
    waved = 0.08 if what in ENLARGERS else 0.0

    def one() -> np.ndarray:
        which = random.random()
        if which < drawn:
            return drawing(random, side)
        return grating(random, side) if which < drawn + waved else patches.one(side)

    high = torch.from_numpy(np.stack([one() for _ in range(BATCH)]))[:, None]
    if what == "clean":
        goal = halve(high, "area") if random.random() < 0.5 else halve(high, "bicubic")
        goal = goal.clamp(0, 1)
        low, strengths = worn(random, goal, 0.9)
        return low, strengths, goal, high
    # a reduction of its own for every quarter of the batch
    low = torch.cat([_reduced(random, part, what) for part in high.chunk(4)])
    if what == "letters" and random.random() < 0.35:
        # by four, the second step begins with what the first one made
        with torch.no_grad():
            small = _reduced(random, low, what)
            low = (lanczos_twice(small) + net(small)).clamp(0, 1)
    if cleaner is not None:
        part = BATCH if what == "mended" else BATCH // 8
        with torch.no_grad():
            hurt, strengths = worn(random, low[:part].clamp(0, 1))
            low[:part] = hurt + cleaner(hurt, strengths)
    if what != "mended" and random.random() < 0.5:  # files come rounded to 8 bits
        low = (low.clamp(0, 1) * 255).round() / 255
    return low, torch.zeros(0), high


def _reduced(random: np.random.Generator, high: torch.Tensor, what: str) -> torch.Tensor:
    kind = random.random()
    if what == "letters":
        return halve(blur(high, random.uniform(0, 0.8)), "area" if kind < 0.5 else "bicubic")
    if kind < 0.65:
        return halve(high, "bicubic")
    if kind < 0.71:
        return halve(high, "lanczos" if random.random() < 0.7 else "crisp")
    return halve(blur(high, random.uniform(0, 1.5)), "area")


def train(what: str, minutes: float, work: Path, seed: int, onward: bool) -> None:
    """Train `what` for `minutes` on top of any checkpoint in `work`, or of the shipped weights."""
    random = np.random.default_rng(seed + int(time.time()) % 100000)
    torch.manual_seed(seed)
    patches = Patches(gathered(work), random)
    net = NETS[what]().to(memory_format=torch.channels_last)
    if onward:
        shipped(what, net)
    top = ONWARD_RATE if onward else TOP_RATE
    steady = NETS[what]()
    steady.load_state_dict(net.state_dict())
    layers = [each for each in net.modules() if isinstance(each, torch.nn.Conv2d)]
    inner = [layer.weight for layer in layers[1:-1]]
    rest = [each for each in net.parameters() if not any(each is weight for weight in inner)]
    optimisers = [
        Muon(inner, lr=top), torch.optim.AdamW(rest, lr=top, weight_decay=1e-4)
    ]  # fmt: skip
    kept = work / f"{what}.pt"
    spent, step = 0.0, 0
    if kept.exists():
        state = torch.load(kept, weights_only=False)
        net.load_state_dict(state["net"])
        steady.load_state_dict(state["steady"])
        for optimiser, held in zip(optimisers, state["optimisers"], strict=True):
            optimiser.load_state_dict(held)
        spent, step = state["spent"], state["step"]
    cleaner = _ready("clean", work) if what in ENLARGERS else None
    # what is cleaned is enlarged afterwards, as a rule: half of the goal lies there
    enlarger = _ready("mended", work) if what == "clean" else None
    running, ours, theirs = time.process_time(), 0.0, 0.0
    saved = spent
    while spent < minutes * 60:
        done = spent / (minutes * 60)
        share = LAST_SHARE + (1 - LAST_SHARE) * 0.5 * (1 + math.cos(math.pi * done))
        for optimiser in optimisers:
            for group in optimiser.param_groups:
                group["lr"] = top * share * min(1.0, (step + 1) / 100)
        low, strengths, goal, *larger = batch(what, patches, net, cleaner)
        if what == "clean":
            base, made = low, low + net(low, strengths)
            rim = RIM
        else:
            base = lanczos_twice(low)
            made = base + net(low)
            rim = 2 * RIM
        cut = slice(rim, -rim)
        error = (made - goal)[..., cut, cut]
        stage = 1.0 if onward else done  # good weights go straight to the loss that counts
        loss = _loss(error, stage)
        if enlarger is not None:
            wide = slice(2 * RIM, -2 * RIM)
            after = (lanczos_twice(made) + enlarger(made) - larger[0])[..., wide, wide]
            loss = 0.6 * loss + 0.6 * _loss(after, stage)
        net.zero_grad(set_to_none=True)
        loss.backward()
        torch.nn.utils.clip_grad_norm_(rest, 0.5)
        for optimiser in optimisers:
            optimiser.step()
        step += 1
        with torch.no_grad():
            keep = min(0.999, step / (step + 10))
            for slow, quick in zip(steady.parameters(), net.parameters(), strict=True):
                slow.mul_(keep).add_(quick, alpha=1 - keep)
            ours += float(10 * torch.log10((error**2).mean((1, 2, 3)) + 1e-7).mean())
            plain = (base - goal)[..., cut, cut]
            theirs += float(10 * torch.log10((plain**2).mean((1, 2, 3)) + 1e-7).mean())
        # processor time, so that a machine shared with other work trains no less
        now = time.process_time()
        spent += (now - running) / torch.get_num_threads()
        running = now
        if step % 200 == 0:
            print(
                f"{what} {step} {spent / 60:.1f} min  gain {(theirs - ours) / 200:.3f} dB",
                flush=True,
            )
            ours = theirs = 0.0
        if spent - saved > 120 or spent >= minutes * 60:
            saved = spent
            state = {
                "net": net.state_dict(),
                "steady": steady.state_dict(),
                "optimisers": [optimiser.state_dict() for optimiser in optimisers],
                "spent": spent,
                "step": step,
            }
            beside = kept.with_suffix(".part")
            torch.save(state, beside)
            beside.replace(kept)


def _ready(what: str, work: Path) -> torch.nn.Module:
    """Another network, to work beside the one in training: from `work`, or the shipped one."""
    net = NETS[what]().eval().requires_grad_(False)
    if (work / f"{what}.pt").exists():
        net.load_state_dict(torch.load(work / f"{what}.pt", weights_only=False)["steady"])
    else:
        shipped(what, net)
    return net


def _loss(error: torch.Tensor, done: float) -> torch.Tensor:
    return torch.sqrt(error**2 + 1e-6).mean() if done < 0.5 else _relative(error)


def _relative(error: torch.Tensor) -> torch.Tensor:
    """Mean of the patches' errors in decibels: what the examination averages."""
    return torch.log((error**2).mean((1, 2, 3)) + 1e-6).mean() * 0.02


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("what", choices=sorted(NETS))
    parser.add_argument("--minutes", type=float, default=40.0)
    parser.add_argument("--work", type=Path, default=Path("training/work"))
    parser.add_argument("--threads", type=int, default=2)
    parser.add_argument("--seed", type=int, default=7)
    parser.add_argument("--onward", action="store_true", help="begin with the shipped weights")
    given = parser.parse_args()
    torch.set_num_threads(given.threads)
    train(given.what, given.minutes, given.work, given.seed, given.onward)
