"""A file on its way in: chosen, looked at, kept.  What was read travels sealed in the page until somebody keeps it."""

from __future__ import annotations

from typing import Any

from aestiva.frame.kept import NotKept, TooLarge, seal, unseal


class Refusal(Exception):
    """Why a file cannot be taken, in words with the mend."""


def received(request: Any, owner: str) -> tuple[bytes, str, bool]:
    """The file's bytes, the same sealed for `owner`, and whether it comes back from the preview; raises Refusal."""
    try:
        if "kept" in request.POST:
            sealed = request.POST["kept"]
            return unseal(sealed, owner), sealed, True
        file = request.FILES.get("file")
        if file is None:
            raise Refusal("Choose a file first.")
        data = file.read()
        return data, seal(data, owner), False
    except NotKept as error:
        raise Refusal("The preview is too old: choose the file again.") from error
    except TooLarge as error:
        raise Refusal("The file is too large: cut it into several.") from error
