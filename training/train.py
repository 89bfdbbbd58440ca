"""Train one of the networks: `python -m training.train blocks|clean|twice|fine --minutes 40`.

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
from PIL import Image
from torch import nn

from training.damage import blur, halve, lanczos_twice, pressed, worn
from training.drawings import drawing, grating
from training.learner import Learner
from training.nets import NETS
from training.onward import shipped
from training.pictures import LUMA, gathered
from training.revived import places, revive
from training.rounded import rounds, whole_weights

USUAL_PATCHES = (16, 64)  # in a step, and their side in input pixels
LOOKING_FAR = (8, 96)  # for `blocks`, and later
LOOKING_FARTHER = (5, 128)
FARTHER = 0.5  # of the time
RIM = 5  # input pixels that do not count
TOP_RATE = 2e-3
ONWARD_RATE = 4e-4  # for weights that are good already
LAST_SHARE = 0.007  # of the rate, at the end
ENLARGERS = ("twice", "fine", "mended")  # of photographs
CLEANERS = ("clean", "blocks")
WHOLE = ("twice", "fine")  # learn with numbers as they will be rounded
REVIVED_EVERY = 500  # steps between which silent channels are looked for
REVIVED_UNTIL = 0.6  # of the time
ASKED_AGAIN = 12  # batches that a channel has to be silent in
BY_FOUR = 0.5  # of the batches of lettering, whose loss is that of two steps
STEEPER = 1.15  # are edges of lettering made at every step
ALONE = 0.4  # of the time that `blocks` is trained without its enlarger
REDUCERS = (Image.Resampling.BICUBIC, Image.Resampling.LANCZOS, Image.Resampling.BOX)


class Patches:
    """Patches of the training pictures: half with a weight on detail, half from anywhere.

    Out-of-focus ground has to be met as often as photographs show it: a network that hardly knows
    it takes softness for blur that ought to be undone.

    Parameters
    ----------
    as_errors_lie : bool
        Seven in ten where there is most to get wrong: what JPEG costs a photograph as a whole is
        the sum of its errors, and lies where its detail is. Photographs count alike then, small
        ones almost as large ones, and are reduced to any size between those that they are kept at.
    """

    def __init__(
        self, pictures: list[np.ndarray], random: np.random.Generator, as_errors_lie: bool = False
    ) -> None:
        self.pictures = pictures
        self.random = random
        self.chances = []
        self.anywhere, steepness = (0.3, 1.4) if as_errors_lie else (0.5, 0.7)
        self.reduced = 0.55 if as_errors_lie else 0.0
        areas = np.array([picture.shape[0] * picture.shape[1] for picture in pictures], float)
        if as_errors_lie:
            areas = np.sqrt(areas)
        self.areas = areas / areas.sum()
        for picture in pictures:
            down, across = np.gradient(picture.astype(np.float32) @ LUMA / 255.0)
            energy = np.sqrt(down**2 + across**2)
            cells = energy[: len(energy) // 32 * 32, : energy.shape[1] // 32 * 32]
            cells = cells.reshape(cells.shape[0] // 32, 32, -1, 32).mean((1, 3))
            weight = (cells + 0.004) ** steepness
            self.chances.append((weight / weight.sum(), float(weight.sum())))
        total = np.array([c[1] for c in self.chances])
        self.share = self.areas if as_errors_lie else total / total.sum()

    def one(self, side: int) -> np.ndarray:
        """One patch (side, side), turned, mirrored and re-toned at random, sometimes of two."""
        random = self.random
        patch = self._cut(side)
        if random.random() < 0.08:
            share = float(random.beta(1.2, 1.2))
            patch = share * patch + (1 - share) * self._cut(side)
        if random.random() < 0.1:
            patch = 1 - patch
        if random.random() < 0.4:
            patch = np.clip(patch, 0, 1) ** float(np.exp(random.normal(0, 0.25)))
        return np.ascontiguousarray(patch, np.float32)

    def _cut(self, side: int) -> np.ndarray:
        """A part of a picture, its luma or, one time in three, another mixture of its colours."""
        random = self.random
        anywhere = random.random() < self.anywhere
        chances = self.areas if anywhere else self.share
        which = random.choice(len(self.pictures), p=chances)
        while min(self.pictures[which].shape[:2]) < side:
            which = random.choice(len(self.pictures), p=chances)
        picture, (weight, _) = self.pictures[which], self.chances[which]
        part = side
        if random.random() < self.reduced:
            part = min(round(side * float(np.exp(random.uniform(0, 0.6)))), *picture.shape[:2])
        cell = random.choice(weight.size, p=None if anywhere else weight.ravel())
        y, x = (32 * c + int(random.integers(32)) for c in divmod(int(cell), weight.shape[1]))
        y = int(np.clip(y - part // 2, 0, picture.shape[0] - part))
        x = int(np.clip(x - part // 2, 0, picture.shape[1] - part))
        mixture = LUMA if random.random() < 0.65 else random.dirichlet((1, 1, 1))
        patch = picture[y : y + part, x : x + part] @ mixture.astype(np.float32) / 255.0
        if part != side:
            how = REDUCERS[int(random.integers(len(REDUCERS)))]
            patch = np.asarray(Image.fromarray(patch).resize((side, side), how)).clip(0, 1)
        patch = np.rot90(patch, int(random.integers(4)))
        return patch[:, ::-1] if random.random() < 0.5 else patch


def batch(
    what: str, done: float, patches: Patches, net: nn.Module, cleaners: dict[str, nn.Module]
) -> tuple[torch.Tensor, ...]:
    """Inputs, strengths, goal of one step and, for a cleaner, the goal of what enlarges it."""
    random = patches.random
    count, low_side = USUAL_PATCHES
    if what == "blocks":
        count, low_side = LOOKING_FAR if done < FARTHER else LOOKING_FARTHER
    side = 2 * low_side
    drawn = 1.0 if what == "letters" else 0.05
    waved = 0.08 if what in ENLARGERS else 0.0

    def one() -> np.ndarray:
        which = random.random()
        if which < drawn:
            return drawing(random, side)
        return grating(random, side) if which < drawn + waved else patches.one(side)

    high = torch.from_numpy(np.stack([one() for _ in range(count)]))[:, None]
    if what in CLEANERS:
        usual = 0.5 if what == "clean" else 0.7
        goal = halve(high, "bicubic" if random.random() < usual else "area").clamp(0, 1)
        low, strengths = worn(random, goal, 0.9) if what == "clean" else pressed(random, goal)
        return low, strengths, goal, high
    # a reduction of its own for every quarter of the batch
    low = torch.cat([_reduced(random, part, what) for part in high.chunk(4)])
    if what == "letters" and random.random() < BY_FOUR:
        low = _reduced(random, low, what)
    if cleaners:
        part = count if what == "mended" else count // 8
        low[:part] = _cleaned(random, low[:part].clamp(0, 1), cleaners)
    if what != "mended" and random.random() < 0.5:  # files come rounded to 8 bits
        low = (low.clamp(0, 1) * 255).round() / 255
    return low, torch.zeros(0), high


def _cleaned(
    random: np.random.Generator, low: torch.Tensor, cleaners: dict[str, nn.Module]
) -> torch.Tensor:
    """Damaged, and cleaned again by one of those that clean."""
    with torch.no_grad():
        name = random.choice(sorted(cleaners))
        hurt, strengths = (worn if name == "clean" else pressed)(random, low)
        return _cleaned_by(cleaners[name], hurt, strengths)[0]


def _cleaned_by(
    net: nn.Module, hurt: torch.Tensor, strengths: torch.Tensor
) -> tuple[torch.Tensor, ...]:
    """What a network makes of damaged planes, and what it tells besides."""
    answer = net(hurt, strengths)
    change, *seen = answer if isinstance(answer, tuple) else (answer,)
    return (hurt + change, *seen)


def _reduced(random: np.random.Generator, high: torch.Tensor, what: str) -> torch.Tensor:
    kind = random.random()
    if what == "letters":
        return halve(blur(high, random.uniform(0, 0.8)), "area" if kind < 0.5 else "bicubic")
    if kind < 0.65:
        return halve(high, "bicubic")
    if kind < 0.71:
        return halve(high, "lanczos" if random.random() < 0.7 else "crisp")
    return halve(blur(high, random.uniform(0, 1.5)), "area")


def train(
    what: str, minutes: float, work: Path, seed: int, onward: bool, rate: float = 1.0
) -> None:
    """Train `what` for `minutes` on top of any checkpoint in `work`, or of the shipped weights.

    `blocks` and the enlarger behind it, `repaired`, are trained as one after a while.
    """
    random = np.random.default_rng(seed + int(time.time()) % 100000)
    torch.manual_seed(seed)
    patches = Patches(gathered(work), random, as_errors_lie=what == "blocks")
    top = rate * (ONWARD_RATE if onward else TOP_RATE)
    learner = Learner(what, work, top, onward)
    taught = [learner]
    cleaners = {name: _ready(name, work) for name in CLEANERS} if what in ENLARGERS else {}
    # what is cleaned is enlarged afterwards, as a rule: half of the goal lies there
    enlarger = _ready("mended", work) if what == "clean" else None
    if what == "blocks":
        cleaners = {"clean": _ready("clean", work)}
        if not onward and not learner.steps:
            learner.begin_with(cleaners["clean"])
        taught.append(Learner("mended", work, rate * ONWARD_RATE, onward=True))
        enlarger = taught[1].net
    net = learner.net
    inner = rounds(what, net) if what in WHOLE else []
    live = [at for each in taught for at in places(each.net, taught[-1].net)]
    steady = [at for each in taught for at in places(each.steady, taught[-1].steady)]
    recent: list[tuple[torch.Tensor, torch.Tensor]] = []

    def ask_again() -> None:
        for hurt, known in recent:
            if what not in CLEANERS:
                net(hurt)
            elif enlarger is not None:
                enlarger(*_cleaned_by(net, hurt, known))

    running, saved = time.process_time(), learner.spent
    ours = theirs = 0.0
    while learner.spent < minutes * 60:
        done = learner.spent / (minutes * 60)
        share = LAST_SHARE + (1 - LAST_SHARE) * 0.5 * (1 + math.cos(math.pi * done))
        stage = 1.0 if onward else done  # good weights go straight to the loss that counts
        low, strengths, goal, *larger = batch(what, done, patches, net, cleaners)
        recent = [*recent[1 - ASKED_AGAIN :], (low, strengths)]
        if learner.steps % REVIVED_EVERY == ASKED_AGAIN and done < REVIVED_UNTIL:
            silent = revive(live, steady, ask_again)
            print(f"{what} {learner.steps}: {silent} silent channels begun anew", flush=True)
        if what in CLEANERS:
            made, *seen = _cleaned_by(net, low, strengths)
            base, rim = low, RIM
        else:
            with whole_weights(inner):
                made, base = enlarged(what, net, low, goal), low
            while base.shape[-1] < goal.shape[-1]:
                base = lanczos_twice(base)
            rim = RIM * goal.shape[-1] // low.shape[-1]
        error = _inside(made - goal, rim)
        loss = _loss(error, stage)
        active = taught if stage >= ALONE else taught[:1]
        if enlarger is not None and (what == "clean" or active == taught):
            after = _loss(_enlarged_error(enlarger, made, larger[0], *seen), stage)
            loss = 0.6 * loss + 0.6 * after if what == "clean" else 0.3 * loss + 0.9 * after
            if what == "blocks" and learner.steps % 4 == 0:
                # what was cleaned of noise is still known
                few = larger[0][: len(low) // 2]
                other = _cleaned(random, halve(few, "bicubic").clamp(0, 1), cleaners)
                loss = loss + 0.45 * _relative(_enlarged_error(enlarger, other, few))
        for each in taught:
            each.net.zero_grad(set_to_none=True)
        with whole_weights(inner):
            loss.backward()
        for each in active:
            each.step(share)
        with torch.no_grad():
            ours += float(_decibels(error))
            theirs += float(_decibels(_inside(base - goal, rim)))
        # processor time, so that a machine shared with other work trains no less
        now = time.process_time()
        learner.spent += (now - running) / torch.get_num_threads()
        running = now
        if learner.steps % 200 == 0:
            print(
                f"{what} {learner.steps} {learner.spent / 60:.1f} min  "
                f"gain {(theirs - ours) / 200:.3f} dB",
                flush=True,
            )
            ours = theirs = 0.0
        if learner.spent - saved > 120 or learner.spent >= minutes * 60:
            saved = learner.spent
            for each in active:
                each.keep()


def enlarged(what: str, net: nn.Module, low: torch.Tensor, goal: torch.Tensor) -> torch.Tensor:
    """Double planes until they are as large as the goal; lettering is held, as the program does."""
    made = low
    while made.shape[-1] < goal.shape[-1]:
        larger = lanczos_twice(made) + net(made)
        made = _held(larger, made) if what == "letters" else larger
    return made


def _held(larger: torch.Tensor, low: torch.Tensor) -> torch.Tensor:
    """Keep planes within the tones around them, and make what lies between steeper."""
    wide = nn.functional.pad(low, (2, 2, 2, 2), "replicate")
    most, least = nn.functional.max_pool2d(wide, 5, 1), -nn.functional.max_pool2d(-wide, 5, 1)
    most, least = (nn.functional.interpolate(each, scale_factor=2) for each in (most, least))
    value = torch.minimum(torch.maximum(larger, least), most)
    span = most - least
    part = (value - least) / (span + 1e-6)
    steep = (0.5 + (part - 0.5) * STEEPER).clamp(0, 1)
    return value + ((span - 0.06) * 8).clamp(0, 1) * span * (steep - part)


def _ready(what: str, work: Path) -> nn.Module:
    """Another network, to work beside the one in training: from `work`, or the shipped one."""
    net = NETS[what]().eval().requires_grad_(False)
    if (work / f"{what}.pt").exists():
        net.load_state_dict(torch.load(work / f"{what}.pt", weights_only=False)["steady"])
    else:
        shipped(what, net)
    return net


def _inside(planes: torch.Tensor, rim: int) -> torch.Tensor:
    return planes[..., rim:-rim, rim:-rim]


def _enlarged_error(
    enlarger: nn.Module, low: torch.Tensor, high: torch.Tensor, *seen: torch.Tensor
) -> torch.Tensor:
    return _inside(lanczos_twice(low) + enlarger(low, *seen) - high, 2 * RIM)


def _decibels(error: torch.Tensor) -> torch.Tensor:
    return 10 * torch.log10((error**2).mean((1, 2, 3)) + 1e-7).mean()


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
    parser.add_argument("--rate", type=float, default=1.0, help="share of the usual rates")
    given = parser.parse_args()
    torch.set_num_threads(given.threads)
    train(given.what, given.minutes, given.work, given.seed, given.onward, given.rate)
