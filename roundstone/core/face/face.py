"""The cut face a plan is likely to have: what was laid where, by the trace each portion had as it went in.

An expectation, not a canvas: the same seed and figures give the same picture, and a tenth of a level moves little.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from ..values import Id, Share, Value
from .colour import Array, Tint, linear, mixed
from .fields import LAY, Laid, Pour, at_level, layers
from .plane import BODY, WIDE, plane_of

THIN_FROM = 2.6  # level below which colours run into each other [C]
FEATHER = (1.7, 0.8, 0.1, 0.0, 0.0)  # mm beyond its edge that a colour tints, at levels 1 to 5 [C]
WISPS = (0.8, 0.5, 0.0, 0.0, 0.0)  # how plain the hairlines are that follow an edge [C]
MUDDY = (0.30, 0.06, 0.0, 0.0, 0.0)  # of the way to the mean of all colours [C]
AIR_FROM, GRAIN_TOLD = 4.0, 0.35  # level from which air is caught; odds of grains from which they are drawn [C]
PEAKS = {"textured-top": 6.5, "chunks": 3.2, "tamp": 1.2, "rough-diagonal": 2.0, "drawn-top": 2.2}  # mm [C]
FADE_BANDS = 11


class FacePortion(Value):
    """A portion of the face: its share, its colour, the level it goes in at, and how likely it shows grains."""

    share: Share = Field(gt=0, le=1)
    tint: Tint
    level: float = Field(ge=0, le=6)
    grain: Share = Field(default=0.0, ge=0, le=1)


class Face(Value):
    """What a face is drawn from; `portions` in the order in which they are laid."""

    technique: Id
    portions: tuple[FacePortion, ...] = Field(min_length=1, max_length=24)
    seed: int = Field(default=0, ge=0, lt=2**32)


@dataclass(frozen=True)
class Solved:
    """Where each portion lies: number of the one on top at each point (-1 outside the bar), and its pours."""

    laid: Laid
    top: NDArray[np.int64]
    bar: NDArray[np.bool_]
    pours: tuple[tuple[Pour, float], ...]


def solve(face: Face, across: int) -> Solved:
    """Lay a face on a grid so many points wide. Shares are exact but for single points: the last pour takes its share
    of the bar where its field is largest, the one before it of what is left open, and so on; the first has the rest.
    """
    plane = plane_of(across, face.seed)
    whole = sum(p.share for p in face.portions)
    levels = tuple(float(np.clip(p.level, 1.0, 5.0)) for p in face.portions)
    laid = Laid(plane, tuple(p.share / whole for p in face.portions), levels)
    bar = plane.y <= _height(face, laid)
    pours = list(LAY.get(face.technique, layers)(laid))
    top = np.where(bar, pours[0].portion, -1)
    open_, all_of = bar.copy(), int(bar.sum())
    solved = []
    for pour in reversed(pours[1:]):
        room = pour.field[open_]
        wanted = min(round(pour.share * all_of), room.size)
        edge = float(np.partition(room, room.size - wanted)[room.size - wanted]) if wanted else np.inf
        taken = open_ & (pour.field >= edge)
        top = np.where(taken, pour.portion, top)
        open_ &= ~taken
        solved.append((pour, edge))
    return Solved(laid, top, bar, ((pours[0], -np.inf), *reversed(solved)))


def _height(face: Face, laid: Laid) -> Array:
    """Height of the bar along its width, in mm."""
    plane = laid.plane
    last = laid.levels[-1]
    peaks = PEAKS.get(face.technique, 0.5) * at_level((0.0, 0.3, 0.7, 1.0, 1.15), last)
    wander = plane.noise(41, 30.0)[0]
    ridge = np.abs(((plane.xs / 12.0 + 0.16 * wander) % 1) - 0.5) * 2
    body = (
        BODY
        + peaks * (1 + 0.25 * np.clip(plane.noise(42, 14.0)[0], -2, 2)) * (0.5 + 0.5 * np.cos(np.pi * ridge)) ** 1.4
    )
    if face.technique == "piping":
        dome = np.abs((plane.xs / 16.0) % 1 - 0.5) * 2
        body = BODY - 1.5 + 8.0 * at_level((0.2, 0.4, 0.75, 1.0, 0.95), last) * np.sqrt(np.clip(1 - dome**2.4, 0, 1))
    if face.technique == "embeds":
        near = np.abs((plane.xs / 20.0) % 1 - 0.5) * 20.0
        body = np.maximum(body, BODY + np.clip(7.5 - np.maximum(near - 3.5, 0) * 3.2, 0, 6.0))
    corner = np.clip(3.0 - np.minimum(plane.xs, WIDE - plane.xs), 0, 3)
    return np.asarray(body - (3.0 - np.sqrt(9.0 - corner**2)) * (peaks < 1.5))[None, :]


def draw(face: Face, pixels: int) -> NDArray[np.uint8]:
    """The face as sRGB with alpha (rows × pixels × 4), `pixels` wide; drawn finer and then averaged."""
    finer = 4 if pixels <= 60 else 2
    solved = solve(face, pixels * finer)
    colour = _painted(face, solved)
    alpha = solved.bar.astype(float)
    rows = solved.bar.shape[0] // finer * finer

    def averaged(a: Array) -> Array:
        shape = (rows // finer, finer, pixels, finer, *a.shape[2:])
        return np.asarray(a[:rows].reshape(shape).mean(axis=(1, 3)))

    cover = averaged(alpha)
    light = averaged(colour * alpha[..., None]) / np.maximum(cover, 1e-9)[..., None]
    srgb = np.where(light <= 0.0031308, 12.92 * light, 1.055 * np.clip(light, 0, 1) ** (1 / 2.4) - 0.055)
    out = np.concatenate([srgb, cover[..., None]], axis=2)
    return np.asarray(np.clip(np.rint(out * 255), 0, 255), dtype=np.uint8)


def _painted(face: Face, solved: Solved) -> Array:
    """Linear light at every point."""
    laid, plane = solved.laid, solved.laid.plane
    tints = np.array([linear(p.tint) for p in face.portions])
    if face.technique == "fade":
        return _faded(face, solved)
    colour = tints[np.maximum(solved.top, 0)]
    for pour, edge in solved.pours[1:]:
        level = laid.level(pour.portion)
        if level >= THIN_FROM or not np.isfinite(edge):
            continue
        _run(colour, solved, pour, edge, tints[pour.portion], level)
    mean = np.average(tints, axis=0, weights=laid.shares)
    mud = np.array([at_level(MUDDY, laid.level(i)) for i in range(len(tints))])[np.maximum(solved.top, 0)]
    colour = colour + mud[..., None] * (mean - colour)
    if face.technique in ("chunks", "tamp"):
        _, inside = laid.heaps
        colour = colour * (1 - 0.22 * np.clip(1 - inside / 0.16, 0, 1) * solved.bar)[..., None]
    if face.technique == "sculpted":
        colour = _mica(colour, solved)
    _speckle(colour, face, solved)
    return np.asarray(colour * (1 + 0.012 * plane.flow[0][1])[..., None])


def _run(colour: Array, solved: Solved, pour: Pour, edge: float, tint: Array, level: float) -> None:
    """A thin colour runs on beyond its edge: a tint, and hairlines that follow it."""
    plane = solved.laid.plane
    up, right = np.gradient(pour.field, plane.step)
    beyond = (edge - pour.field) / np.maximum(np.hypot(up, right), 1e-3)
    slow = 0.5 + 0.5 * np.tanh(plane.flow[1][2])
    feather = max(at_level(FEATHER, level), 1e-3)
    much = 0.34 * np.clip(1 - beyond / feather, 0, 1) * (level < THIN_FROM)
    for away, wide in ((1.5, 0.34), (2.7, 0.24)):
        much = much + at_level(WISPS, level) * 0.7 * slow * np.clip(1 - np.abs(beyond - away) / wide, 0, 1)
    much = np.where((beyond > 0) & solved.bar, np.clip(much, 0, 0.75), 0.0)
    colour += much[..., None] * (tint - colour)


def _faded(face: Face, solved: Solved) -> Array:
    """From one colour to the next in bands; thick batter keeps to its own."""
    laid, plane = solved.laid, solved.laid.plane
    level = float(np.dot(laid.shares, laid.levels))
    edge = at_level(DRIP_OF_FADE, level) * plane.flow[2][1] + 0.8 * plane.flow[1][1]
    height = np.clip((plane.y + edge) / BODY, 0, 0.999)
    bands = np.floor(height * FADE_BANDS) / (FADE_BANDS - 1)
    ends = np.cumsum((0.0, *laid.shares))
    middles = (ends[:-1] + ends[1:]) / 2
    if len(middles) > 1:
        middles[0], middles[-1] = 0.0, 1.0
    step = np.interp(bands, middles, np.arange(len(middles)))
    whole = np.rint(step)
    keeps = float(np.clip((level - 3.3) / 1.2, 0, 1))
    step = step + keeps * (whole - step)
    table = np.array(
        [
            linear(mixed(face.portions[int(s)].tint, face.portions[min(int(s) + 1, len(middles) - 1)].tint, s % 1))
            for s in np.linspace(0, len(middles) - 1, 64)
        ]
    )
    return np.asarray(table[np.rint(step / max(len(middles) - 1, 1) * 63).astype(int)])


DRIP_OF_FADE = (3.0, 1.0, 0.3, 1.6, 3.0)  # mm of unevenness of a band's edge, at levels 1 to 5 [C]


def _mica(colour: Array, solved: Solved) -> Array:
    """The line drawn on the first layer: gold along its upper edge."""
    first = solved.top == 0
    lower = np.roll(first, -round(0.9 / solved.laid.plane.step), axis=0)
    lower[-1:] = False
    line = solved.bar & lower & ~first
    return np.where(line[..., None], np.array(linear("#b08a3c")), colour)


def _speckle(colour: Array, face: Face, solved: Solved) -> None:
    """Air that thick batter catches, and grains where it rices: places are fixed, each grows in at its own level."""
    laid, plane = solved.laid, solved.laid.plane
    dice = np.random.Generator(np.random.PCG64([plane.seed, 13]))
    spots = dice.uniform(0, 1, (340, 4))
    for n, (u, v, birth, size) in enumerate(spots):
        row = int((1 - v) * (solved.top.shape[0] - 1))
        column = int(u * (solved.top.shape[1] - 1))
        i = int(solved.top[row, column])
        if i < 0:
            continue
        grains = face.portions[i].grain >= GRAIN_TOLD
        air = n < 60 and laid.levels[i] > AIR_FROM + 1.2 * birth
        if not (air or grains):
            continue
        radius = (0.5 + 0.7 * size) if grains else 0.35 + 0.8 * size * min(laid.levels[i] - AIR_FROM, 1.0)
        reach = max(int(radius / plane.step), 0)
        where = np.s_[max(row - reach, 0) : row + reach + 1, max(column - reach, 0) : column + reach + 1]
        away = np.hypot(plane.x[where] - plane.xs[column], plane.y[where] - plane.ys[row])
        ink = np.where((away <= radius) & (solved.top[where] == i), 0.6 if grains else 0.42, 0.0)
        shade = np.array([1.0, 1.0, 0.96]) * (0.95 if grains and n % 2 else 0.08)
        colour[where] += ink[..., None] * (shade - colour[where])


def shares_of(face: Face, across: int) -> tuple[float, ...]:
    """Share of the bar that each portion covers on a grid so many points wide."""
    solved = solve(face, across)
    counts = np.bincount(solved.top[solved.bar], minlength=len(face.portions))
    return tuple(float(c) for c in counts / counts.sum())


def rounded(face: Face) -> Face:
    """The face with levels to a tenth and shares to a thousandth, so that pictures made once serve often."""
    portions = (
        p.model_copy(
            update={"level": round(p.level, 1), "share": round(p.share, 3), "grain": float(p.grain >= GRAIN_TOLD)}
        )
        for p in face.portions
    )
    return face.model_copy(update={"portions": tuple(portions)})
