"""Proof of output sharpening on photographs: is a print, as seen, as crisp as the photo was?

Known photographs are reduced (and coded as JPEG) and printed by the program at 300 ppi. Print and
photo are looked at in simulation: the print blurred by its paper in reflected light, the photo not;
then L*, filtered by the eye's contrast sensitivity. It rewrites the table at the end of
docs/sharpening.md.

    python benchmarks/proof_photographs.py --folder FOLDER [--side 480]

The photographs are fetched into the folder (`photographs.json`, those held back).

References
----------
J. L. Mannos, D. J. Sakrison (1974): the eye's contrast sensitivity.
"""

from __future__ import annotations

import argparse
from dataclasses import dataclass, replace
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np
from common import CODINGS, reduced
from photographs import photographs

from zinc_margin.docket.docket import Docket
from zinc_margin.handoff.machine import this_machine
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.papers import find_paper
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan
from zinc_margin.plan.sharpen.eye import contrast_sensitivity

VIEWS = (("lustre", 300), ("lustre", 450), ("lustre", 800), ("matt", 450), ("canvas", 450))
"""The columns of the table: paper, and viewing distance in mm."""
FACTORS = (1, 2, 3, 4)
QUALITIES = (None, 95, 90, 85, 75, 40)
PPI = 300
PAGE = Path(__file__).parents[1] / "docs" / "sharpening.md"
HEAD = "## On photographs"


@dataclass(frozen=True)
class Shown:
    """What one print turned out to be, against the photo: see the page's words.

    `plain` has crispness and edges without sharpening; `predicted` has both pairs as planned.
    """

    crispness: float
    edges: float
    nearer: float
    plain: tuple[float, float]
    predicted: tuple[float, float, float, float]


def light_of(codes: np.ndarray) -> np.ndarray:
    """Relative luminance (H, W) of sRGB values 0 to 1."""
    linear = np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4)
    return np.asarray(linear @ np.array([0.2126, 0.7152, 0.0722]))


def seen(light: np.ndarray, near: float, paper_mm: float) -> np.ndarray:
    """Lightness as the eye sees it from `near` mm."""
    border = min(int(np.ceil(near * np.tan(np.radians(1)) / 25.4 * PPI)), min(light.shape) - 1)
    high, wide = light.shape
    padded = np.pad(light, border, mode="reflect")
    rows, columns = padded.shape
    per_mm = np.hypot(np.fft.fftfreq(rows)[:, None], np.fft.rfftfreq(columns)[None]) * PPI / 25.4
    blur = np.exp(-2 * (np.pi * paper_mm * per_mm) ** 2)
    printed = np.fft.irfft2(np.fft.rfft2(padded) * blur, padded.shape)
    lightness = 116 * np.cbrt(np.clip(printed, 1e-4, None)) - 16
    eye = contrast_sensitivity(per_mm * near * np.pi / 180)
    eye = eye / contrast_sensitivity(np.linspace(0.1, 60, 4000)).max()
    result = np.fft.irfft2(np.fft.rfft2(lightness - lightness.mean()) * eye, padded.shape)
    return np.asarray(result[border : border + high, border : border + wide])


def shown(
    truth: np.ndarray,
    factor: int,
    quality: int | None,
    paper: str,
    near: int,
    plains: dict[str, Any],
    coding: str = "4:2:0",
) -> Shown:
    """Print a reduced photo and look at it; `truth` are the photo's codes (H, W, 3)."""
    high, wide = truth.shape[:2]
    photo = reduced(truth, factor, quality, "photo.png", "PNG", coding)
    lines = Docket()
    none = Fraction(0) if quality is None else None

    def printed(strength: int) -> tuple[np.ndarray, Any]:
        docket = replace(
            lines,
            size=replace(
                lines.size,
                size=PrintSize("", Fraction(wide * 254, 3000), Fraction(high * 254, 3000)),
                ppi=Fraction(PPI),
                distance=Seen.at(near),
            ),
            pixels=replace(lines.pixels, choice="resample", clean=none, denoise=none, dehalo=none),
            sharpen=replace(
                lines.sharpen, paper=paper, process="inkjet", strength=Fraction(strength)
            ),
        )
        made = plan(photo.facts, docket, this_machine())
        out = Renderer(photo, made, bits=16).region(0, 0, wide, high)[..., :3]
        return light_of(out / 65535.0), made.sharpen

    ideal = seen(light_of(truth / 255.0), near, 0.0)
    slope = np.stack(np.gradient(ideal))
    sigma = float(find_paper(paper).sigma_mm)
    if plains.get("of") != (id(truth), factor, quality):
        plains.update({"of": (id(truth), factor, quality), "light": printed(0)[0]})
    light, told = printed(100)
    looks = [seen(each, near, sigma) for each in (plains["light"], light)]
    figures = []
    for look in looks:
        own = np.stack(np.gradient(look))
        crispness = float((own * slope).sum() / (slope**2).sum())
        figures.append((crispness, float(np.sqrt((own**2).sum() / (slope**2).sum()))))
    apart = [float(np.sqrt(np.mean((one - ideal) ** 2))) for one in looks]
    return Shown(
        *figures[1],
        20 * float(np.log10(apart[0] / apart[1])),
        figures[0],
        (told.crispness[0], told.edges[0], told.crispness[1], told.edges[1]),
    )


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    asked.add_argument("--folder", type=Path, required=True)
    asked.add_argument("--side", type=int, default=480)
    asked.add_argument("--codings", action="store_true", help="only the table of other codings")
    told = asked.parse_args()
    truths = list(photographs("held", told.folder, told.side).values())
    if told.codings:
        _write_codings(truths)
        return
    rows, missed = [], []
    for factor in FACTORS:
        for quality in QUALITIES:
            cells = []
            plains: list[dict[str, Any]] = [{} for _ in truths]
            for paper, near in VIEWS:
                each = [
                    shown(truth, factor, quality, paper, near, plain)
                    for truth, plain in zip(truths, plains, strict=True)
                ]
                cells.append(
                    f"{np.mean([one.crispness for one in each]):.2f} / "
                    f"{np.mean([one.edges for one in each]):.2f} "
                    f"({max(one.edges for one in each):.2f}) / "
                    f"{np.mean([one.nearer for one in each]):+.1f}"
                )
                if (paper, near) == _JUDGED:
                    missed.append(_missed(factor, quality, each))
            kind = "clean" if quality is None else f"JPEG {quality}"
            rows.append(f"| ×{factor} | {kind} | {' | '.join(cells)} |")
            print(rows[-1], flush=True)
            print(missed[-1], flush=True)
    heads = " | ".join(f"{paper}, {near // 10} cm" for paper, near in VIEWS)
    page = PAGE.read_text("utf-8")
    text, others = page.split(HEAD)[0].rstrip(), page.partition(_CODINGS_HEAD)
    PAGE.write_text(
        f"{text}\n\n{HEAD}\n\n{WORDS.format(count=len(truths))}\n\n"
        f"| factor | file | {heads} |\n|---|---|{'---|' * len(VIEWS)}\n"
        + "\n".join(rows)
        + f"\n\n{ACCURACY}\n\n| factor | file | crispness, plain | edges, plain | crispness | edges |\n"
        "|---|---|---|---|---|---|\n" + "\n".join(missed) + "\n\n" + "".join(others[1:]),
        "utf-8",
    )


_JUDGED = ("lustre", 450)
_CODINGS_HEAD = "### Coded in other ways"
_CODINGS_WORDS = """Lustre from 45 cm, as above. Crispness, edges (and the largest), and how many dB the print is nearer;
then predicted minus seen for edges, plain and sharpened. *A phone's tables* rise less towards fine
detail; *twice*: saved before at a quality 7 higher; *before reducing*: coded at twice the size (at its
own size for ×1), reduced, and saved at 92."""


def _write_codings(truths: list[np.ndarray]) -> None:
    """Rewrite the table of other codings."""
    rows = []
    for factor in (1, 2):
        for quality in (90, 75):
            for coding in CODINGS:
                each = [shown(one, factor, quality, *_JUDGED, {}, coding) for one in truths]
                plain = [one.predicted[1] - one.plain[1] for one in each]
                sharp = [one.predicted[3] - one.edges for one in each]
                rows.append(
                    f"| ×{factor} | {quality} | {coding} "
                    f"| {np.mean([one.crispness for one in each]):.2f} "
                    f"| {np.mean([one.edges for one in each]):.2f} "
                    f"({max(one.edges for one in each):.2f}) "
                    f"| {np.mean([one.nearer for one in each]):+.1f} "
                    f"| {np.mean(plain):+.3f} ± {np.std(plain):.3f} "
                    f"| {np.mean(sharp):+.3f} ± {np.std(sharp):.3f} |"
                )
                print(rows[-1], flush=True)
    text = PAGE.read_text("utf-8").split(_CODINGS_HEAD)[0].rstrip()
    PAGE.write_text(
        f"{text}\n\n{_CODINGS_HEAD}\n\n{_CODINGS_WORDS}\n\n| factor | quality | coding | crispness "
        "| edges | nearer, dB | edges off, plain | edges off |\n|---|---|---|---|---|---|---|---|\n"
        + "\n".join(rows)
        + "\n",
        "utf-8",
    )


def _missed(factor: int, quality: int | None, each: list[Shown]) -> str:
    """A row of what was predicted minus what is seen: the mean, and the deviation."""
    errors = np.array(
        [np.subtract(one.predicted, (*one.plain, one.crispness, one.edges)) for one in each]
    )
    cells = [f"{e.mean():+.3f} ± {e.std():.3f}" for e in errors.T]
    kind = "clean" if quality is None else f"JPEG {quality}"
    return f"| ×{factor} | {kind} | {' | '.join(cells)} |"


ACCURACY = """### The model's accuracy

Predicted minus seen, on lustre from 45 cm: the mean of the photographs, and their deviation. *Plain*:
without sharpening."""


WORDS = """`benchmarks/proof_photographs.py` prints {count} photographs that no table was made from and no
network was trained on (`benchmarks/photographs.json`), reduced by a factor (and coded as JPEG, 4:2:0)
before, at 300 ppi, seen from one distance, with the program's own choice of method and repair. In
each cell, as means of the photographs: *crispness*, the print's gradients along the photo's own (1:
as crisp as the photo); *edges*, all of its gradients (and the largest of any photograph); and by how
many dB the print is nearer to the photo than the same print not sharpened.

Sharpening aims at edges of 1 in the mean. Where the file does not hold the finest detail (from ×3 on,
and coarse JPEGs), stronger edges stand for it, so crispness stays under 1; it stops where the print
would be a decibel farther from the photo than unsharpened, half a decibel for repaired files. For
good JPEGs a print as crisp as the photo is always a little farther from it, because their artefacts
are sharpened, too."""


if __name__ == "__main__":
    main()
