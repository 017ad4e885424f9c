"""What a bar will look like when it is cut: colours as the eye compares them, and the face of each technique."""

from .code import coded, decoded
from .colour import ALIKE, BARE, PALETTE, Aged, Tint, aged, apart, mixed, oklab
from .face import Face, FacePortion, draw, rounded, shares_of, solve
