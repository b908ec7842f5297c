"""Foreign texts as sentences, papers and files of ours may hold them."""

import re

MOST_QUOTED = 60  # letters of a foreign text that a sentence repeats
MOST_WHERE = 120  # a path, or a part with its name
MOST_SENTENCE = 400
QUOTED = re.compile(
    rf"“[^”]{{{MOST_QUOTED + 1},}}”|`[^`]{{{MOST_QUOTED + 1},}}`|(?<=value )'[^']{{{MOST_QUOTED + 1},}}'"
)
# with signs that turn the direction of text
CONTROL = re.compile("[\x00-\x20\x7f-\x9f\u2028-\u202e\u2066-\u2069]+")


def shortened(text: str, most: int = MOST_QUOTED) -> str:
    """A foreign text as a sentence quotes it: one line, its end left out where it is long."""
    line = CONTROL.sub(" ", text[: 8 * most]).strip()
    return line if len(line) <= most and len(text) <= 8 * most else line[: most - 2].rstrip() + " …"


def bounded(sentence: str) -> str:
    """A sentence that may repeat foreign text: each quoted piece and the whole have a greatest length."""
    if len(sentence) <= MOST_QUOTED:
        return CONTROL.sub(" ", sentence)
    return shortened(
        QUOTED.sub(lambda found: found[0][0] + shortened(found[0][1:-1]) + found[0][-1], sentence), MOST_SENTENCE
    )


ILLEGAL = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ud800-\udfff\ufffe\uffff]")


def readable(text: str) -> str:
    """A text without the signs that no XML, workbook or drawing may hold; each becomes a blank."""
    return ILLEGAL.sub(" ", text)
