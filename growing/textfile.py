"""Is this a text file at all, and what is wrong with it?  Shared by everything that comes in as a table."""

from __future__ import annotations

from typing import NamedTuple

MOST_BYTES = 32 * 1024 * 1024


class FileProblem(NamedTuple):
    """row: line number in the file (header = 1), 0 for the whole file.  code: what is wrong.  value: as written."""

    row: int
    code: str
    value: str


def decode(data: bytes) -> tuple[str, str, FileProblem | None]:
    """The text, its encoding, and what stops the file where it is none."""
    if len(data) > MOST_BYTES:
        return "", "", FileProblem(0, "too_big", str(len(data)))
    if not data.strip():
        return "", "", FileProblem(0, "empty", "")
    for mark, encoding in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if data.startswith(mark):
            try:
                return data.decode(encoding), encoding, None
            except UnicodeDecodeError:
                return "", "", FileProblem(0, "encoding", encoding)
    if b"\x00" in data[:65536]:
        return "", "", FileProblem(0, "binary", "")
    try:
        return data.decode("utf-8"), "utf-8", None
    except UnicodeDecodeError:
        pass
    text = data.decode("latin-1")
    odd = sum(1 for c in text[:65536] if (ord(c) < 32 and c not in "\r\n\t") or 127 <= ord(c) < 160)
    if odd > len(text[:65536]) // 100:
        return "", "", FileProblem(0, "binary", "")
    return text, "latin-1", None
