"""A preview writes nothing: what was read travels sealed in the page until somebody keeps it."""

from __future__ import annotations

import base64
import zlib
from datetime import timedelta

from django.conf import settings
from django.core import signing

LASTS = timedelta(hours=12)


class NotKept(Exception):
    """The sealed data is forged, too old, or another's."""


class TooLarge(Exception):
    """Too much to travel in a page."""


def seal(data: bytes, owner: str) -> str:
    """Compressed and signed for one owner ("weather 7"); raises TooLarge."""
    sealed = signing.dumps([owner, base64.b85encode(zlib.compress(data, 6)).decode()], salt="kept")
    if len(sealed) > settings.DATA_UPLOAD_MAX_MEMORY_SIZE - 10_000:
        raise TooLarge
    return sealed


def unseal(sealed: str, owner: str) -> bytes:
    """The data again; raises NotKept."""
    try:
        whose, packed = signing.loads(sealed, salt="kept", max_age=LASTS)
        data = zlib.decompress(base64.b85decode(packed))
    except (signing.BadSignature, ValueError, zlib.error) as error:
        raise NotKept from error
    if whose != owner:
        raise NotKept
    return data
