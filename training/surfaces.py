"""Train `surfaces`: what enlarging by two leaves calm gets the texture of photographs again.

    python -m training.surfaces --minutes 60

It sees a picture that was enlarged faithfully and structure out of the same picture at half its
size (`zinc_margin/pixels/own_texture.py`), and gives what is to be added. Nothing can tell it which
leaf was where; asked for the least error it would add nothing. So it is asked for local statistics:
in every octave band, in four directions, the energy about each place is to be the photograph's;
and what is coarser than an octave and a half under the finest stays as it was.

References
----------
E. P. Simoncelli, J. Portilla (1998): texture by the energy of oriented bands.
"""

from __future__ import annotations

import argparse
import math
import time
from pathlib import Path

import numpy as np
import torch
from torch.nn import functional as F

from training.damage import blur, halve, lanczos_twice, pressed
from training.drawings import drawing, grating
from training.learner import Learner
from training.pictures import gathered
from training.train import Patches, _ready
from zinc_margin.pixels.own_texture import PAD, own_structure

COUNT, SIDE = 8, 48  # patches in a step, and their side before enlarging
PAIRS, ROOM = 6400, 56  # how many are made beforehand, and their side
RIM = 10
TOP_RATE = 1.2e-3
LAST_SHARE = 0.02
AIM = 0.9  # of the photograph's energy: what goes amiss adds to it
FLOOR = (0.6 / 255) ** 2  # energy of a band that nobody sees
BANDS = ((0.0, 0.6), (0.6, 1.2), (1.2, 2.4), (2.4, 4.8))  # blurs between which a band lies
WEIGHTS = (1.0, 1.0, 0.6, 0.4)
PLACES = 0.4  # what each place counts beside its patch
ABOUT = 8  # px, how far a place reaches
REPAIRED = 0.55  # of the pairs


def energies(planes: torch.Tensor) -> list[torch.Tensor]:
    """Local energy of every octave band in four directions, (N, 4, H, W) each."""
    blurred = {sigma: blur(planes, sigma) for sigma in {s for band in BANDS for s in band}}
    found = []
    for fine, coarse in BANDS:
        band = blurred[fine] - blurred[coarse]
        step = 1 if coarse < 1 else 2 if coarse < 2 else 4
        moved = [
            torch.roll(band, shift, dims=(2, 3))
            for shift in ((0, step), (step, 0), (step, step), (step, -step))
        ]
        parts = torch.cat([band - other for other in moved], 1) * 0.7
        found.append(F.avg_pool2d(parts[..., RIM:-RIM, RIM:-RIM] ** 2, ABOUT, ABOUT // 2))
    return found


def unlike(made: torch.Tensor, truth: torch.Tensor) -> torch.Tensor:
    """Return by how much energies differ, in logarithms: about each place, and in all a patch.

    Nobody knows which place has much; asked for each alone, all would get what half of them have
    at most, and together too little.
    """
    total = made.new_zeros(())
    for weight, ours, theirs in zip(WEIGHTS, energies(made), energies(truth), strict=True):
        off = torch.log((ours + FLOOR) / (AIM * theirs + FLOOR))
        together = torch.log((ours.mean((1, 2, 3)) + FLOOR) / (theirs.mean((1, 2, 3)) + FLOOR))
        about = torch.sqrt(off**2 + 1e-3).mean()
        total = total + weight * (PLACES * about + torch.sqrt(together**2 + 1e-3).mean())
    return total


def faithful(
    random: np.random.Generator, patches: Patches, nets: dict[str, torch.nn.Module]
) -> tuple[torch.Tensor, torch.Tensor]:
    """Return pictures (N, 1, 2S, 2S) as they are enlarged faithfully, and as they were."""

    def one() -> np.ndarray:
        which = random.random()
        if which < 0.03:
            return drawing(random, 2 * ROOM)
        return grating(random, 2 * ROOM) if which < 0.06 else patches.one(2 * ROOM)

    high = torch.from_numpy(np.stack([one() for _ in range(COUNT)]))[:, None]
    low = halve(high, "bicubic" if random.random() < 0.7 else "area").clamp(0, 1)
    with torch.no_grad():
        if random.random() < REPAIRED:
            hurt, strengths = pressed(random, low)
            change, seen = nets["blocks"](hurt, strengths)
            low = hurt + change
            added = nets["mended"](low, seen)
        else:
            added = nets["twice"](low)
    return lanczos_twice(low) + added, high


def pairs(work: Path, random: np.random.Generator) -> torch.Tensor:
    """Return pictures as enlarged and as they were, (pairs, 2, 2 ROOM, 2 ROOM), 16-bit floats.

    They are kept in `work`: cleaning takes longer than a step of the training.
    """
    kept = work / "pairs.pt"
    if not kept.exists():
        patches = Patches(gathered(work), random)
        nets = {name: _ready(name, work) for name in ("blocks", "mended", "twice")}
        made = [torch.cat(faithful(random, patches, nets), 1) for _ in range(PAIRS // COUNT)]
        torch.save(torch.cat(made).half(), kept)
    return torch.load(kept, weights_only=False)


def structured(work: Path, kept: torch.Tensor) -> tuple[torch.Tensor, torch.Tensor]:
    """Return structure for every pair's finest octave, (pairs, 1, 2 ROOM, 2 ROOM), and the next."""
    place = work / "structure.pt"
    if not place.exists():
        own, coarse = [], []
        for calm in kept[:, 0].float().numpy():
            own.append(own_structure(np.pad(calm, PAD, "reflect"), 0, 0))
            half = calm.reshape(ROOM, 2, ROOM, 2).mean((1, 3))
            coarse.append(own_structure(np.pad(half, PAD, "reflect"), 0, 0))
        both = [torch.from_numpy(np.stack(each))[:, None].half() for each in (own, coarse)]
        torch.save(both, place)
    own, coarse = torch.load(place, weights_only=False)
    return own, coarse


def drawn(random: np.random.Generator, *kept: torch.Tensor) -> tuple[torch.Tensor, ...]:
    """Return parts of COUNT pairs with their structure, turned and mirrored.

    As enlarged, as they were, structure for the finest octave, and for the next, which is nought
    for some: where nothing was cleaned it is there.
    """
    pairs, own, coarse = kept
    found, next_octave = [], []
    for which in random.integers(len(pairs), size=COUNT):
        y, x = random.integers(ROOM - SIDE + 1, size=2)
        whole = torch.cat([pairs[which], own[which]])
        whole = whole[:, 2 * y : 2 * (y + SIDE), 2 * x : 2 * (x + SIDE)]
        half = coarse[which][:, y : y + SIDE, x : x + SIDE]
        turns, mirrored = int(random.integers(4)), random.random() < 0.5
        whole, half = (torch.rot90(each, turns, (1, 2)) for each in (whole, half))
        found.append(whole.flip(2) if mirrored else whole)
        next_octave.append((half.flip(2) if mirrored else half) * float(random.random() < 0.6))
    together = torch.stack(found).float()
    return together[:, :1], together[:, 1:2], together[:, 2:], torch.stack(next_octave).float()


def train(minutes: float, work: Path, seed: int) -> None:
    """Train for `minutes` of processor time on top of any checkpoint in `work`."""
    random = np.random.default_rng(seed + int(time.time()) % 100000)
    torch.manual_seed(seed)
    kept_pairs = pairs(work, random)
    structure = structured(work, kept_pairs)
    learner = Learner("surfaces", work, TOP_RATE, onward=False)
    running, saved = time.process_time(), learner.spent
    told = np.zeros(4)
    while learner.spent < minutes * 60:
        done = learner.spent / (minutes * 60)
        share = LAST_SHARE + (1 - LAST_SHARE) * 0.5 * (1 + math.cos(math.pi * done))
        calm, truth, own, coarse = drawn(random, kept_pairs, *structure)
        made = calm + learner.net(calm, own, coarse)
        bands = unlike(made, truth)
        near = (blur(made, 1.6) - blur(truth, 1.6))[..., RIM:-RIM, RIM:-RIM]
        off = (made - truth)[..., RIM:-RIM, RIM:-RIM]
        loss = bands + 0.04 * torch.log((near**2).mean((1, 2, 3)) + 1e-6).mean()
        loss = loss + 0.06 * torch.log((off**2).mean((1, 2, 3)) + 1e-6).mean()
        learner.net.zero_grad(set_to_none=True)
        loss.backward()
        learner.step(share)
        with torch.no_grad():
            before = (calm - truth)[..., RIM:-RIM, RIM:-RIM]
            lost = 10 * torch.log10(
                ((off**2).mean((1, 2, 3)) + 1e-6) / ((before**2).mean((1, 2, 3)) + 1e-6)
            )
            plain = float(unlike(calm, truth)) if learner.steps % 10 == 0 else 0.0
            told += float(bands.detach()), plain, float(lost.mean()), 1
        now = time.process_time()
        learner.spent += (now - running) / torch.get_num_threads()
        running = now
        if learner.steps % 200 == 0:
            count = told[3]
            print(
                f"surfaces {learner.steps} {learner.spent / 60:.1f} min  unlike "
                f"{told[0] / count:.3f} (faithful {told[1] * 10 / count:.3f})  "
                f"lost {told[2] / count:.2f} dB",
                flush=True,
            )
            told[:] = 0
        if learner.spent - saved > 120 or learner.spent >= minutes * 60:
            saved = learner.spent
            learner.keep()


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--minutes", type=float, default=60.0)
    parser.add_argument("--work", type=Path, default=Path("training/work"))
    parser.add_argument("--threads", type=int, default=2)
    parser.add_argument("--seed", type=int, default=11)
    given = parser.parse_args()
    torch.set_num_threads(given.threads)
    train(given.minutes, given.work, given.seed)
