"""Heat in the mould against the adiabatic limit and against the same physics solved by scipy on a finer grid."""

import unittest

import numpy as np
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from roundstone.core.heat import CONDUCTIVITY, WALLS, Batter, Block, run
from roundstone.core.recipe import Wrap

# A 33 % batter: 1.03 g/mL, 2.6 J/gK, 55 K of adiabatic rise.
BATTER = Batter(capacity=1.03e6 * 2.6, rise=55.0, gels_at=70.0, sugar_rise=12.0)
LOAF = Block(0.08, 0.065, 0.22)


def independent(block: Block, wrap: Wrap, poured: float, room: float, pace: float, cells: int) -> tuple[float, float]:
    """Peak and gelled share by finite volumes over the whole width, integrated by scipy's BDF: no symmetry is used."""
    side, bottom, top, end = WALLS[wrap]
    spread = CONDUCTIVITY / BATTER.capacity
    dx, dy = block.width / cells, block.height / cells
    half = block.length / 2
    mu = brentq(lambda m: m * np.tan(m) - end * half / CONDUCTIVITY, 1e-6, np.pi / 2 - 1e-6)
    sink = spread * (mu / half) ** 2

    def wall(u: float, d: float) -> float:
        return 1 / (d / (2 * CONDUCTIVITY) + 1 / u) / (BATTER.capacity * d)

    def law(_: float, state: np.ndarray) -> np.ndarray:
        t, a = state.reshape(2, cells, cells)
        k = pace * 1.7 / 3600 * np.exp(-(43000 / 8.314) * (1 / (t + 273.15) - 1 / 311.15))
        da = k * (a + 0.02) * (1 - a)
        dt = BATTER.rise * da - sink * (t - room)
        flow_x, flow_y = spread * np.diff(t, axis=0) / dx**2, spread * np.diff(t, axis=1) / dy**2
        dt[:-1] += flow_x
        dt[1:] -= flow_x
        dt[:, :-1] += flow_y
        dt[:, 1:] -= flow_y
        dt[0] -= wall(side, dx) * (t[0] - room)
        dt[-1] -= wall(side, dx) * (t[-1] - room)
        dt[:, 0] -= wall(bottom, dy) * (t[:, 0] - room)
        dt[:, -1] -= wall(top, dy) * (t[:, -1] - room)
        return np.concatenate([dt.ravel(), da.ravel()])

    begun = np.concatenate([np.full(cells**2, poured), np.full(cells**2, 0.03)])
    times = np.linspace(0, 18 * 3600, 400)
    solved = solve_ivp(law, (0, times[-1]), begun, method="BDF", t_eval=times, rtol=1e-4, atol=1e-3)
    t, a = solved.y.reshape(2, cells**2, -1)
    gelled = ((t >= BATTER.gels_at) & (a >= 0.3)).any(axis=1)
    return float(t.max()), float(gelled.mean())


class MouldHeat(unittest.TestCase):
    def test_a_large_block_keeps_all_its_heat(self) -> None:
        """In the middle of two metres nothing is lost in 18 hours: the rise is what is left to saponify, 97 %."""
        block = Block(2.0, 2.0, 2.0)
        for sugar, rise in ((False, 55.0), (True, 67.0)):
            peak, _ = run(block, BATTER, "insulated", 38.0, 21.0, 1.0, sugar)
            self.assertAlmostEqual(peak, 38.0 + 0.97 * rise, delta=0.3)

    def test_a_thin_block_is_as_warm_as_the_room(self) -> None:
        peak, gelled = run(Block(0.3, 0.002, 0.3), BATTER, "open", 22.0, 21.0, 1.0, False)
        self.assertLess(peak, 24.0)
        self.assertEqual(gelled, 0.0)

    def test_against_scipy_on_another_grid(self) -> None:
        cases: tuple[tuple[Wrap, float, float], ...] = (
            ("open", 38.0, 1.0),
            ("insulated", 32.0, 1.0),
            ("covered", 38.0, 1.75),
            ("open", 27.0, 0.57),
        )
        for wrap, poured, pace in cases:
            with self.subTest(wrap, poured=poured, pace=pace):
                peak, gelled = run(LOAF, BATTER, wrap, poured, 21.0, pace, False)
                other, share = independent(LOAF, wrap, poured, 21.0, pace, 12)
                self.assertAlmostEqual(peak, other, delta=1.2)
                self.assertAlmostEqual(gelled, share, delta=0.12)


if __name__ == "__main__":
    unittest.main()
