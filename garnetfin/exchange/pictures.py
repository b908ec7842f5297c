"""Pictures and PDF pages as PNG of a bounded size."""

import io
import warnings
from pathlib import Path

from garnetfin.core.errors import FileError
from garnetfin.exchange.results import Picture

LARGEST_SIDE = 4096
ORIENTATION = 0x0112  # the mark of EXIF by which a camera or scanner says how a picture stands
MOST_PIXELS = 120_000_000
PAGE_DPI = 150.0
PAPER_SCALE = 100.0  # a page is taken as 1:100 until two points say better
ACCEPTED = "PNG, JPEG or a PDF page is accepted"


def read_picture(path: Path) -> Picture:
    """Raises FileError for what is no picture, lies about its size or is far too large."""
    from PIL import Image, ImageOps

    Image.MAX_IMAGE_PIXELS = MOST_PIXELS
    notes: list[str] = []
    with warnings.catch_warnings():
        warnings.simplefilter("error", Image.DecompressionBombWarning)
        try:
            with Image.open(path, formats=("PNG", "JPEG")) as image:
                width, height = image.size
                if width * height > MOST_PIXELS:
                    raise FileError(
                        f"{path.name} has {width} x {height} pixels, more than {MOST_PIXELS // 10**6} million",
                        remedy=ACCEPTED,
                    )
                image.load()
                upright = ImageOps.exif_transpose(image)
                if image.getexif().get(ORIENTATION, 1) != 1:
                    notes.append("turned as the picture itself says")
                return _png(path.name, upright, notes, 0.0, 1)
        except (Image.DecompressionBombError, Image.DecompressionBombWarning) as error:
            raise FileError(
                f"{path.name} would unpack to more than {MOST_PIXELS // 10**6} million pixels", remedy=ACCEPTED
            ) from error
        except (OSError, ValueError, SyntaxError) as error:
            raise FileError(f"{path.name} is cut off, damaged or no picture", remedy=ACCEPTED) from error


def read_page(path: Path, page: int) -> Picture:
    """One page of a PDF, rendered. Raises FileError for a damaged or locked file and a page it does not have."""
    import pypdfium2

    with path.open("rb") as file:
        if b"%PDF" not in file.read(1024):
            raise FileError(f"{path.name} is not a PDF", remedy=ACCEPTED)
    try:
        document = pypdfium2.PdfDocument(str(path))
        count = len(document)
        if not 0 <= page < count:
            raise FileError(f"{path.name} has {count} pages, not {page + 1}")
        sheet = document[page]
        width, height = sheet.get_size()
        if not 1 <= width <= 20_000 or not 1 <= height <= 20_000:
            raise FileError(
                f"Page {page + 1} of {path.name} measures {width:.0f} x {height:.0f} points",
                remedy="1 to 20 000 points are accepted",
            )
        scale = min(PAGE_DPI / 72.0, LARGEST_SIDE / max(width, height))
        image = sheet.render(scale=scale).to_pil()
    except pypdfium2.PdfiumError as error:
        raise FileError(f"{path.name} is damaged or locked", remedy=ACCEPTED) from error
    return _png(
        path.name, image, ["taken as 1:100 until two points are measured"], 0.0254 / 72.0 / scale * PAPER_SCALE, count
    )


def _png(name: str, image, notes: list[str], pixel_m: float, pages: int) -> Picture:
    if image.mode not in ("RGB", "L"):
        image = image.convert("RGBA")
        from PIL import Image

        white = Image.new("RGBA", image.size, "white")
        image = Image.alpha_composite(white, image).convert("RGB")
    if max(image.size) > LARGEST_SIDE:
        before = image.size
        image.thumbnail((LARGEST_SIDE, LARGEST_SIDE))
        notes.append(f"shrunk from {before[0]} x {before[1]} to {image.size[0]} x {image.size[1]} pixels")
    out = io.BytesIO()
    image.save(out, "PNG")
    return Picture(
        name=name,
        png=out.getvalue(),
        width=image.size[0],
        height=image.size[1],
        pixel_m=pixel_m,
        pages=pages,
        notes=tuple(notes),
    )
