"""What sharpening with all its restraint costs, against the bare resampling and Pillow's mask."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from common import best, photo, picture, say
from PIL import Image, ImageFilter

from zinc_margin.docket.docket import Docket
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.sizes import parse_size
from zinc_margin.pixels.profile import profile
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan

SOURCE = photo(picture())


def drain(renderer: Renderer) -> None:
    for _ in renderer.bands():
        pass


if __name__ == "__main__":
    lines = Docket()
    docket = replace(
        lines,
        size=replace(
            lines.size, size=parse_size("54x36cm"), ppi=Fraction(508), distance=Seen.at(450)
        ),
        pixels=replace(lines.pixels, choice="resample", method="lanczos"),
        sharpen=replace(lines.sharpen, paper="cotton rag"),
    )
    made = plan(SOURCE.facts, docket)
    bare = Renderer(SOURCE, replace(made, sharpen=None))
    sharp = Renderer(SOURCE, made)
    for renderer in (bare, sharp):
        renderer.region(0, 0, 200, 200)
    without, with_it = best(lambda: drain(bare)), best(lambda: drain(sharp))
    say(
        "sharpening 78 MP, all restraint on, beside the resampling",
        with_it - without,
        without,
        "the resampling",
        0.8,
    )
    whole = Image.fromarray(SOURCE.codes).resize((10800, 7200))
    mask = best(lambda: whole.filter(ImageFilter.UnsharpMask(2, 80, 2)))
    say("sharpening 78 MP, beside", with_it - without, mask, "Pillow's UnsharpMask", 0.4)
    profile(SOURCE, made, (0.5, 0.5))
    took = best(lambda: profile(SOURCE, made, (0.41, 0.37)))
    print(
        f"an edge profile: {took * 1e3:.1f} ms; under 16 ms is asked: "
        f"{'met' if took < 0.016 else 'NOT met'}"
    )
