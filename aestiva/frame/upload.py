"""A list on its way in: a file chosen or cells pasted, looked at, kept.  What was read travels sealed in the page until then."""

from __future__ import annotations

from typing import Any

from aestiva.frame.kept import NotKept, TooLarge, seal, unseal


class Refusal(Exception):
    """Why a file cannot be taken, in words with the mend."""


def received(request: Any, owner: str) -> tuple[bytes, str, bool]:
    """The bytes, the same sealed for `owner`, and whether they come back from the preview; raises Refusal."""
    try:
        if "kept" in request.POST:
            sealed = request.POST["kept"]
            return unseal(sealed, owner), sealed, True
        file, pasted = request.FILES.get("file"), request.POST.get("pasted", "")
        if file is None and not pasted.strip():
            raise Refusal("Choose a file, or paste the cells, first.")
        data = pasted.encode() if file is None else file.read()
        return data, seal(data, owner), False
    except NotKept as error:
        raise Refusal("The preview is too old: choose the file again.") from error
    except TooLarge as error:
        raise Refusal("The file is too large: cut it into several.") from error
