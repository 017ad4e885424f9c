"""Pictures made small: what a camera sends becomes a JPEG of a modest size, within bounded memory."""

from io import BytesIO
from threading import Lock

from PIL import Image, ImageOps

from ..core.values import Fault, RuleError

LARGEST = 1600  # pixels along the longer side of what is kept
MOST_PIXELS = 60_000_000  # of a picture that is opened: more than any camera at a bench has [chosen]
MOST_DECODED = 120_000_000  # bytes of its pixels as they are decoded: 40 million of three colours [chosen]
BANDS = {
    "1": 1,
    "L": 1,
    "P": 1,
    "LA": 2,
    "RGB": 3,
    "YCbCr": 3,
    "LAB": 3,
    "RGBA": 4,
    "CMYK": 4,
    "I;16": 2,
    "I": 4,
    "F": 4,
}
_ONE_AT_A_TIME = Lock()  # eight phones that send at once wait for each other, rather than fill the memory together


def small_jpeg(data: bytes) -> bytes:
    """A JPEG of at most LARGEST pixels either way, nothing beside its pixels; RuleError when it is no picture.

    Only what cameras and browsers make is opened, and what it would take to decode is looked at before it is.
    """
    with _ONE_AT_A_TIME:
        try:
            with Image.open(BytesIO(data), formats=("JPEG", "PNG", "WEBP")) as image:
                _check(image.width * image.height <= MOST_PIXELS, image)
                image.draft("RGB", (LARGEST, LARGEST))  # a large JPEG is read at a fraction of its size
                _check(image.width * image.height * BANDS.get(image.mode, 8) <= MOST_DECODED, image)
                image.thumbnail((LARGEST, LARGEST))  # in its place, before any copy is made of it
                upright = ImageOps.exif_transpose(image).convert("RGB")
                bare = Image.new("RGB", upright.size)
                bare.paste(upright)
                out = BytesIO()
                bare.save(out, "JPEG", quality=85)
        except RuleError:
            raise
        except Exception as error:  # a damaged picture fails in whatever way its bytes please
            message = "This is not a picture that can be read: JPEG, PNG or WebP."
            raise RuleError(Fault(pointer="/file", message=message)) from error
    return out.getvalue()


def _check(small: bool, image: Image.Image) -> None:
    if not small:
        message = f"This picture has {image.width} × {image.height} pixels: send it smaller, or as JPEG."
        raise RuleError(Fault(pointer="/file", message=message))
