"""The cut face as a picture."""

from functools import lru_cache
from io import BytesIO

from PIL import Image

from ..core.face import decoded, draw

WIDTHS = (40, 80, 120, 240, 480)  # pixels a face may be asked for


@lru_cache(maxsize=600)
def png(code: str, width: int) -> bytes:
    """A PNG with clear corners, so many pixels wide; RuleError for a code that is none."""
    out = BytesIO()
    Image.fromarray(draw(decoded(code), width)).save(out, "PNG", compress_level=6)
    return out.getvalue()
