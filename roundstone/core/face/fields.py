"""How each technique lays its portions: fields over the face, one a pour, later pours over earlier ones.

A pour covers where its field is above a threshold that its share decides, so a field says only what is covered first.
All in millimetres; every figure here is chosen to look like the technique.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from .colour import Array
from .plane import BODY, WIDE, Plane

# Millimetres that batter is carried about at levels 1 to 5, by wavelength. Only amplitudes move with the level.
LEVELS = (1.0, 2.0, 3.0, 4.0, 5.0)
CARRIED = {
    44.0: (5.4, 5.0, 4.6, 4.2, 3.8),
    19.0: (3.2, 2.8, 2.4, 2.1, 2.0),
    8.0: (1.2, 0.8, 0.5, 0.55, 0.7),
    3.2: (0.25, 0.1, 0.0, 0.12, 0.25),
}
LUMPED = (0.0, 0.0, 0.0, 0.15, 0.3)  # how far a point is drawn to the centre of its lump
DEEP = (48.0, 43.0, 38.0, 32.0, 26.0)  # mm that a drop sinks
TURNED = (2.2, 2.05, 1.9, 1.75, 1.6)  # rad that a tool turns the batter at most
DRIPS, RIDGES = (4.6, 2.0, 0.0, 0.0, 0.0), (0.0, 0.0, 0.3, 1.6, 3.4)  # mm of a layer's edge: run down, and heaped
MANY = 58  # spoonfuls in a face
PERIOD = 30.0  # mm from a colour to the same again in what is poured in turns


def at_level(knots: Sequence[float], level: float) -> float:
    return float(np.interp(level, LEVELS, knots))


@dataclass(frozen=True)
class Pour:
    """`share` of the face that portion number `portion` covers by it, first where `field` is largest."""

    portion: int
    share: float
    field: Array


@dataclass(frozen=True)
class Laid:
    """Portions as they were laid: shares that add up to 1, and the level of each as it went in."""

    plane: Plane
    shares: tuple[float, ...]
    levels: tuple[float, ...]

    @property
    def base(self) -> int:
        return max(range(len(self.shares)), key=lambda i: self.shares[i])

    @property
    def accents(self) -> list[int]:
        return [i for i in range(len(self.shares)) if i != self.base]

    def level(self, i: int) -> float:
        """What a portion's edge looks like: by its own level, and some by what it went into."""
        return 0.65 * self.levels[i] + 0.35 * self.levels[self.base]

    def carried(self, i: int, much: float = 1.0) -> tuple[Array, Array]:
        """Where the batter at each point was before it was carried about."""
        plane, level = self.plane, self.level(i)
        x, y = plane.x, plane.y
        lumped = at_level(LUMPED, level)
        if lumped > 0:
            cx, cy = plane.centres
            x, y = x + lumped * (cx - x), y + lumped * (cy - y)
        for wave, dx, dy in plane.flow:
            amplitude = much * at_level(CARRIED[wave], level)
            x, y = x + amplitude * dx, y + amplitude * dy
        return x, y

    @cached_property
    def heaps(self) -> tuple[Array, Array]:
        """Which spoonful lies open at each point, by a rank in no order, and how far inside it that is (0 to 1)."""
        plane = self.plane
        dice = np.random.Generator(np.random.PCG64([plane.seed, 7]))
        order = dice.permutation(MANY).astype(float)
        rank, inside = np.full(plane.x.shape, -1.0), np.zeros_like(plane.x)
        level = float(np.dot(self.shares, self.levels))
        x, y = plane.x + 0.35 * plane.flow[1][1] * (5 - level), plane.y + 0.35 * plane.flow[1][2] * (5 - level)
        for n in range(MANY):
            cx, cy = dice.uniform(0, WIDE), BODY * ((n + 0.5) / MANY * 1.12 - 0.06)
            wide, high, lean = dice.uniform(8, 15), dice.uniform(5, 8), dice.uniform(-0.35, 0.35)
            rows = np.abs(plane.ys - cy) < high + 9
            if not rows.any():
                continue
            top, bottom = int(np.argmax(rows)), len(rows) - int(np.argmax(rows[::-1]))
            dx, dy = x[top:bottom] - cx, y[top:bottom] - cy - lean * (x[top:bottom] - cx)
            r = np.sqrt((dx / wide) ** 2 + (dy / high) ** 2)
            r += 0.08 * plane.flow[2][1][top:bottom] + 0.05 * max(level - 4, 0) * plane.flow[3][1][top:bottom]
            here = r < 1
            rank[top:bottom] = np.where(here, order[n], rank[top:bottom])
            inside[top:bottom] = np.where(here, 1 - r, inside[top:bottom])
        return np.where(rank < 0, order[0], rank), np.where(rank < 0, 1.0, inside)


def layers(laid: Laid, slope: float = 0.0, turns: bool = False, rough: float = 1.0) -> Iterator[Pour]:
    """One on the other from the foot up, sloping by so much to one side, or to both in turn."""
    plane = laid.plane
    for n, i in enumerate(range(len(laid.shares))):
        level = laid.level(i)
        tilt = slope * (-1) ** n if turns else slope
        edge = at_level(DRIPS, level) * np.abs(plane.flow[2][1]) + 0.25 * at_level(DRIPS, level) * plane.flow[1][1]
        heaps = at_level(RIDGES, level) * rough * (np.abs(plane.flow[2][2]) - 0.6)
        yield Pour(i, laid.shares[i], plane.y + tilt * (plane.x - WIDE / 2) + edge + heaps + 0.35 * plane.flow[0][2])


def drops(laid: Laid, turn: Callable[[Laid, int], tuple[Array, Array]], many: int = 4) -> Iterator[Pour]:
    """Lines dropped into the base, which close over it again with what was kept of the base."""
    base, accents = laid.base, laid.accents
    back = 0.3 * laid.shares[base]
    yield Pour(base, laid.shares[base] - back, np.zeros_like(laid.plane.x))
    for n, i in enumerate(accents):
        yield Pour(i, laid.shares[i], _drop(laid, i, n, many, turn))
    if accents:
        yield Pour(base, back, _drop(laid, base, len(accents), many, turn) - 0.004 * (BODY - laid.plane.y))


def _drop(laid: Laid, i: int, n: int, many: int, turn: Callable[[Laid, int], tuple[Array, Array]]) -> Array:
    x, y = turn(laid, i)
    deep = at_level(DEEP, laid.level(i)) * (1 - 0.06 * n)
    sunk = np.clip((BODY - y) / deep, 0.0, 2.0)
    pitch = WIDE / many
    # Drops of one colour fall beside those of the one before, and push them apart.
    away = np.abs((x / pitch + 0.5 * n + 0.13 * n * n) % 1 - 0.5) * pitch
    return np.asarray(1.0 - sunk**1.5 - away / (0.42 * pitch))


def fallen(laid: Laid, i: int) -> tuple[Array, Array]:
    return laid.carried(i, 0.8)


def hung(laid: Laid, i: int) -> tuple[Array, Array]:
    """The wire drawn through in loops: whorls that turn in turn."""
    x, y = laid.carried(i, 0.45)
    most = at_level(TURNED, laid.level(i))
    for n, (cx, cy) in enumerate(((20.0, 38.0), (58.0, 34.0), (38.0, 16.0))):
        x, y = _whorl(x, y, cx, cy, 17.0, most * (-1) ** n)
    return x, y


def skewered(laid: Laid, i: int) -> tuple[Array, Array]:
    """The skewer drawn up and down: columns carried past each other."""
    x, y = laid.carried(i, 0.6)
    much = 6.0 * at_level(TURNED, laid.level(i))
    return x + 0.3 * much * np.sin(y / 7.5), y + much * np.sin(2 * np.pi * x / 27.0)


def _whorl(x: Array, y: Array, cx: float, cy: float, wide: float, most: float) -> tuple[Array, Array]:
    away = ((x - cx) ** 2 + (y - cy) ** 2) / wide**2
    angle = most * np.exp(-away)
    cos, sin = np.cos(angle), np.sin(angle)
    return cx + cos * (x - cx) - sin * (y - cy), cy + sin * (x - cx) + cos * (y - cy)


def turns(laid: Laid, phase: Callable[[Laid, int], Array]) -> Iterator[Pour]:
    """Colours one after the other, again and again, along a phase in millimetres."""
    middle, begun = [], 0.0
    for share in laid.shares:
        middle.append(begun + share / 2)
        begun += share
    order = [laid.base, *laid.accents]
    for i in order:
        yield Pour(i, laid.shares[i], np.cos(2 * np.pi * (phase(laid, i) / PERIOD - middle[i])))


def _pot(laid: Laid, i: int) -> Array:
    x, y = laid.carried(i, 1.1)
    x, y = _whorl(x, y, 40.0, 30.0, 30.0, 1.6)
    return np.asarray(0.95 * y + 13 * np.sin(x / 16) + 4.5 * np.sin(y / 6 + x / 11))


def _jug(laid: Laid, i: int) -> Array:
    x, y = laid.carried(i, 0.75)
    return np.asarray(1.15 * y + 12 * np.sin(x / 12.5) + 0.25 * x)


def _rings(laid: Laid, i: int) -> Array:
    x, y = laid.carried(i, 0.45)
    return np.asarray(1.35 * np.hypot((x - 41) / 1.25, y - 29) + 6)


def _shells(laid: Laid, i: int) -> Array:
    """Fans from both lower corners, wider the farther, as the batter thickens."""
    x, y = laid.carried(i, 0.45)
    left, right = np.hypot(x + 2, y + 6), np.hypot(WIDE - x + 2, y + 6) + 9
    return np.asarray(6.6 * np.minimum(left, right) ** 0.72)


def _veins(laid: Laid, i: int) -> Array:
    x, y = laid.carried(i, 0.7)
    return np.asarray(1.5 * (0.82 * x + 0.57 * y) + 3.0 * laid.plane.noise(31, 26.0, 0.4))


def dots(laid: Laid, rows: int, across: int, foot: float, hearts: bool) -> Iterator[Pour]:
    """Rounds squeezed into the base from `foot` mm up, colour by colour in turn; or combed down into points."""
    base, accents = laid.base, laid.accents
    yield Pour(base, laid.shares[base], np.zeros_like(laid.plane.x))
    for n, i in enumerate(accents):
        x, y = laid.carried(i, 0.3)
        row = np.clip(np.floor((y - foot) / (BODY - foot) * rows), 0, rows - 1)
        along = x / WIDE * across + 0.5 * (row % 2)
        px = (along % 1 - 0.5) * WIDE / across
        py = y - (foot + (row + 0.5) * (BODY - foot) / rows)
        tall = 1 + 0.5 * max(2.2 - laid.level(i), 0.0)
        away = np.hypot(np.abs(px) + (0.45 * np.maximum(-py, 0) if hearts else 0.0), py / tall)
        own = (np.floor(along) + row) % len(accents) == n
        yield Pour(i, laid.shares[i], np.where(own, -away, -40.0 - away))


def lines(laid: Laid) -> Iterator[Pour]:
    """Two thick lines of the accents in a fluid base."""
    base = laid.base
    yield Pour(base, laid.shares[base], np.zeros_like(laid.plane.x))
    heights = (0.34, 0.68)
    for i in laid.accents:
        thick = at_level((0.0, 0.2, 0.4, 0.8, 1.2), laid.level(i))
        _, y = laid.carried(i, 0.55)
        wave = 1.6 * laid.plane.flow[1][1] + thick * laid.plane.flow[2][1]
        offset = 5.0 * laid.accents.index(i)
        yield Pour(i, laid.shares[i], -np.min([np.abs(y - h * BODY - offset + wave) for h in heights], axis=0))


def spoonfuls(laid: Laid) -> Iterator[Pour]:
    """Spoonfuls laid from the foot up, each of one portion as far as its share goes."""
    rank, inside = laid.heaps
    field = rank + 0.98 * np.clip(inside, 0.0, 0.999)
    for i in range(len(laid.shares)):
        yield Pour(i, laid.shares[i], field)


def columns(laid: Laid) -> Iterator[Pour]:
    """Shapes filled one beside the other."""
    for i in range(len(laid.shares)):
        yield Pour(i, laid.shares[i], laid.plane.x)


LAY: dict[str, Callable[[Laid], Iterator[Pour]]] = {
    "pot-swirl": lambda laid: turns(laid, _pot),
    "jug-swirl": lambda laid: turns(laid, _jug),
    "drop-swirl": lambda laid: drops(laid, fallen),
    "hanger-swirl": lambda laid: drops(laid, hung, 3),
    "skewer-slab": lambda laid: drops(laid, skewered, 3),
    "bottle-drops": lambda laid: dots(laid, 5, 6, 0.0, hearts=False),
    "dots-hearts": lambda laid: dots(laid, 3, 5, 22.0, hearts=True),
    "bowl-stripes": lambda laid: turns(laid, _rings),
    "tilted-shells": lambda laid: turns(laid, _shells),
    "wall-veins": lambda laid: turns(laid, _veins),
    "thick-line": lines,
    "slants": lambda laid: layers(laid, 0.32, turns=True),
    "diagonal": lambda laid: layers(laid, 0.8),
    "rough-diagonal": lambda laid: layers(laid, 0.8, rough=1.8),
    "chunks": spoonfuls,
    "tamp": spoonfuls,
    "scraped": columns,
}
