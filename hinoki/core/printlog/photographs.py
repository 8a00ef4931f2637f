"""Photographs as they are kept: upright, small, without what cameras write beside the picture."""

import io

from PIL import Image, ImageOps, UnidentifiedImageError

from hinoki.core.errors import HinokiError, TooLarge

LONGEST_PX = 1280
MOST_BYTES = 15_000_000
MOST_PIXELS = 80_000_000
TOO_MANY = f"The photograph has more than {MOST_PIXELS // 1_000_000} million points. Take a smaller one."
QUALITY = 82


def is_photograph(content: bytes) -> bool:
    """Whether it is a JPEG as Hinoki keeps them."""
    try:
        with Image.open(io.BytesIO(content), formats=("JPEG",)) as image:
            return max(image.size) <= LONGEST_PX
    except (UnidentifiedImageError, Image.DecompressionBombError, OSError, SyntaxError, ValueError):
        return False


def size_px(jpeg: bytes) -> tuple[int, int]:
    """Width and height of a photograph as it is kept."""
    with Image.open(io.BytesIO(jpeg), formats=("JPEG",)) as image:
        return image.width, image.height


def as_kept(content: bytes) -> bytes:
    """A photograph (JPEG, PNG, WebP) as a JPEG of at most LONGEST_PX. Raises TooLarge, and HinokiError for what is none."""
    if len(content) > MOST_BYTES:
        raise TooLarge(f"The photograph is larger than {MOST_BYTES // 1_000_000} MB. Take a smaller one.", "photograph")
    try:
        with Image.open(io.BytesIO(content), formats=("JPEG", "PNG", "WEBP")) as image:
            if image.width * image.height > MOST_PIXELS:
                raise TooLarge(TOO_MANY, "photograph")
            upright = ImageOps.exif_transpose(image).convert("RGB")
    except Image.DecompressionBombError as error:
        raise TooLarge(TOO_MANY, "photograph") from error
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError) as error:
        raise HinokiError("This is no photograph that can be read. Use a JPEG, PNG or WebP file.", "photograph") from error
    upright.thumbnail((LONGEST_PX, LONGEST_PX))
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=QUALITY)
    return out.getvalue()
