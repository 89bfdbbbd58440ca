"""The demo's pictures: the same bits each time, and photographic in their figures."""

from __future__ import annotations

import numpy as np
import pytest

from zinc_margin.demo import bench, bowls, estuary, kiln, reeds, texture, tiles, waterfront

MODULES = [tiles, estuary, bench, bowls, kiln, reeds, waterfront]


@pytest.fixture
def small(monkeypatch):
    """Draw at a tenth of the size: the same sums, in a moment."""
    for module in MODULES:
        monkeypatch.setattr(module, "WIDTH", module.WIDTH // 10)
        monkeypatch.setattr(module, "HEIGHT", module.HEIGHT // 10)
    monkeypatch.setattr(tiles, "_PITCH", tiles._PITCH / 10)
    monkeypatch.setattr(reeds, "_BLADES", reeds._BLADES // 10)


@pytest.mark.parametrize("module", MODULES, ids=lambda module: module.__name__)
def test_pictures_are_the_same_each_time(small, module):
    seen = []
    first, second = module.draw(seen.append), module.draw(seen.append)
    assert np.array_equal(first, second)
    assert first.shape == (module.HEIGHT, module.WIDTH, 3)
    assert seen[-1] == 1
    top = np.iinfo(first.dtype).max
    luma = first.mean(axis=2) / top
    # tones from dark to light, neither crushed nor blown
    low, high = np.quantile(luma, (0.02, 0.98))
    assert low < 0.4 and high > 0.5
    assert (luma > 0.995).mean() < 0.02 and (luma < 0.005).mean() < 0.02


def test_the_estuary_uses_its_depth(small):
    assert len(np.unique(estuary.draw(lambda _: None))) > 5000


def test_clouds_repeat_at_their_edge():
    field = texture.cloud(3, 1.5, 64)
    at = texture.stretch(field, np.array([0.5, 64.5]), np.array([3.25, 67.25]))
    assert np.allclose(at[0], at[1], atol=1e-5) and np.allclose(at[:, 0], at[:, 1], atol=1e-5)
    assert abs(field.mean()) < 1e-4 and field.std() == pytest.approx(1, abs=1e-3)
