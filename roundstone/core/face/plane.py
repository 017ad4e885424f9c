"""The plane of a cut face: a grid in millimetres, and noise on it that stands still while amplitudes move.

Cubic B-splines over a lattice of normals, so that the same seed gives the same soap at every size.
"""

from functools import cached_property, lru_cache

import numpy as np

from .colour import Array

WIDE, BODY, HEAD = 80.0, 62.0, 9.0  # mm: of the bar, its height, and the room for what stands on it
WAVES = (44.0, 19.0, 8.0, 3.2)  # mm of the ways in which batter is carried about
LUMP, SHOULDER = 11.0, 2.6  # mm between the centres of lumps, and over which they are rounded
SPLINE_SD = 151 / 315  # root of the mean square of a two-way cubic B-spline over normals of sd 1


def _spline(at: Array, count: int) -> Array:
    """Weights (points × lattice) of a cubic B-spline at positions in lattice steps, none of them below 0."""
    low = np.floor(at).astype(int)
    t = at - low
    weights = ((1 - t) ** 3, 3 * t**3 - 6 * t**2 + 4, -3 * t**3 + 3 * t**2 + 3 * t + 1, t**3)
    out = np.zeros((len(at), count))
    rows = np.arange(len(at))
    for n, w in enumerate(weights):
        out[rows, low + n] += w / 6
    return out


class Plane:
    """Points in mm, `x` from the left and `y` up from the foot (rows from the top), `step` mm apart."""

    def __init__(self, across: int, seed: int) -> None:
        self.step = WIDE / across
        down = round((BODY + HEAD) / self.step)
        self.seed = seed
        self.xs = ((np.arange(across) + 0.5) * self.step).astype(np.float32)
        self.ys = (BODY + HEAD - (np.arange(down) + 0.5) * self.step).astype(np.float32)
        self.x, self.y = np.meshgrid(self.xs, self.ys)

    def noise(self, key: int, wave: float, flat: float = 1.0) -> Array:
        """Smooth noise of sd 1 and wavelength `wave` mm across, `flat` times that up and down."""
        rows, columns = (
            _spline(at, int(length / cell) + 5)
            for at, length, cell in ((self.ys / (wave * flat), BODY + HEAD, wave * flat), (self.xs / wave, WIDE, wave))
        )
        dice = np.random.Generator(np.random.PCG64([self.seed, key]))
        lattice = dice.standard_normal((rows.shape[1], columns.shape[1]))
        return np.asarray(rows @ lattice @ columns.T / SPLINE_SD, dtype=np.float32)

    @cached_property
    def flow(self) -> tuple[tuple[float, Array, Array], ...]:
        """How batter is carried about, in four wavelengths: mm, and the two ways."""
        return tuple((wave, self.noise(2 * n, wave), self.noise(2 * n + 1, wave)) for n, wave in enumerate(WAVES))

    @cached_property
    def centres(self) -> tuple[Array, Array]:
        """For every point the centre (x, y) of the lump it lies in."""
        across, down = int(WIDE / LUMP) + 3, int((BODY + HEAD) / LUMP) + 3
        dice = (
            np.random.Generator(np.random.PCG64([self.seed, 99]))
            .uniform(-0.42, 0.42, (2, down, across))
            .astype(np.float32)
        )
        column, row = (self.x / LUMP).astype(int) + 1, (self.y / LUMP).astype(int) + 1
        nearest, cx, cy = np.full_like(self.x, np.inf), np.zeros_like(self.x), np.zeros_like(self.x)
        for i in (-1, 0, 1):
            for j in (-1, 0, 1):
                r, c = np.clip(row + i, 0, down - 1), np.clip(column + j, 0, across - 1)
                px = (c - 0.5 + dice[0][r, c]) * LUMP
                py = (r - 0.5 + dice[1][r, c]) * LUMP
                away = (self.x - px) ** 2 + (self.y - py) ** 2
                near = away < nearest
                nearest = np.where(near, away, nearest)
                cx, cy = np.where(near, px, cx), np.where(near, py, cy)
        # Lumps have round shoulders.
        return self.x + self._blurred(cx - self.x), self.y + self._blurred(cy - self.y)

    def _blurred(self, field: Array) -> Array:
        from scipy.ndimage import uniform_filter

        size = max(int(SHOULDER / self.step) | 1, 1)
        return np.asarray(uniform_filter(uniform_filter(field, size), size))


@lru_cache(maxsize=2)  # of the largest some 40 MB each
def plane_of(across: int, seed: int) -> Plane:
    """A plane, kept for the next face of the same recipe: how batter is carried about in it is reckoned once."""
    return Plane(across, seed)
