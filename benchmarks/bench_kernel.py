"""The resampling alone, enlarging, reducing and turned, against Pillow's 8-bit LANCZOS."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from common import best, photo, picture, say
from PIL import Image

from zinc_margin.docket.docket import Docket
from zinc_margin.measure.sizes import parse_size
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.planning import plan

SOURCE = photo(picture())
IMAGE = Image.fromarray(SOURCE.codes)


def rendered(ppi: int, turn: int = 0) -> tuple[Renderer, tuple[int, int]]:
    lines = Docket()
    made = plan(
        SOURCE.facts,
        replace(
            lines,
            size=replace(lines.size, size=parse_size("54x36cm"), ppi=Fraction(ppi)),
            crop=replace(lines.crop, turn=Fraction(turn)),
            pixels=replace(lines.pixels, choice="resample"),
            sharpen=replace(lines.sharpen, on=False),
        ),
    )
    renderer = Renderer(SOURCE, made)
    renderer.region(0, 0, 64, 64)
    return renderer, (made.pixels.width, made.pixels.height)


def drain(renderer: Renderer) -> None:
    for _ in renderer.bands():
        pass


if __name__ == "__main__":
    for name, ppi in (("enlarge 24 → 78 MP", 508), ("reduce 24 → 5 MP", 130)):
        renderer, size = rendered(ppi)
        other = best(lambda size=size: IMAGE.resize(size, Image.Resampling.LANCZOS))
        say(name, best(lambda renderer=renderer: drain(renderer)), other, "Pillow")
    level, _ = rendered(300)
    turned, _ = rendered(300, turn=7)
    say(
        "turned by 7°", best(lambda: drain(turned), 1), best(lambda: drain(level), 1), "unturned", 8
    )
