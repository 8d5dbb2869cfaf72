"""The words of a PDF that holds text; one that holds pictures of text is refused kindly."""

import io

from nutrition.notes import Problem

#: Pages read of one file, how far one compressed stream may unfold, and how much of them all is drawn.
MOST_PAGES, MOST_UNFOLDED, MOST_DRAWN = 12, 2_000_000, 400_000
#: Fewer letters than this on all pages are no recipe but its picture.
LEAST_LETTERS = 40


def words_of_pdf(data: bytes) -> str:
    """The text line by line, as it stands on the pages. Raises Problem for pictures, locked, long and broken files."""
    from pypdf import Configuration, PdfReader, apply_configuration
    from pypdf.errors import PyPdfError

    bounded = Configuration(
        zlib_maximum_output_length=MOST_UNFOLDED,
        lzw_maximum_output_length=MOST_UNFOLDED,
        run_length_maximum_output_length=MOST_UNFOLDED,
        array_based_stream_maximum_output_length=MOST_UNFOLDED,
    )
    try:
        with apply_configuration(bounded):
            reader = PdfReader(io.BytesIO(data))
            if reader.is_encrypted:
                raise Problem("reading.pdf_locked")
            if len(reader.pages) > MOST_PAGES:
                raise Problem("reading.pdf_long", pages=len(reader.pages), most=MOST_PAGES)
            drawn = [page.get_contents() for page in reader.pages]
            if sum(len(content.get_data()) for content in drawn if content is not None) > MOST_DRAWN:
                raise Problem("reading.pdf_heavy")
            text = "\n".join(page.extract_text() for page in reader.pages)
    except Problem:
        raise
    except (PyPdfError, ValueError, KeyError, TypeError, AttributeError, RecursionError, OverflowError, IndexError):
        raise Problem("reading.file_of_a_kind", kind="a PDF that cannot be opened") from None
    if sum(map(str.isalpha, text)) < LEAST_LETTERS:
        raise Problem("reading.pdf_of_pictures")
    return text
