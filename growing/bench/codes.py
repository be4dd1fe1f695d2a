"""What is this label?  A short code that a person can type: what it is of, its number, and a sign that finds a slip."""

from __future__ import annotations

SIGNS = "23456789ABCDEFGHJKMNPQRSTVWXY"  # 29, a prime; nothing that is read as something else
OF = {"B": "batch", "T": "tray", "P": "planting"}
MOST = 10**12


def code(kind: str, number: int) -> str:
    """“B7K3-Q”: kind (B, T or P), the number, and after a dash the sign that checks it.  Raises ValueError for others."""
    if kind not in OF or not 0 < number < MOST:
        raise ValueError(f"no code for {kind}{number}")
    signs = ""
    left = number
    while left:
        left, sign = divmod(left, len(SIGNS))
        signs = SIGNS[sign] + signs
    return f"{kind}{signs}-{_check(kind, number)}"


def read_code(text: str) -> tuple[str, int]:
    """Kind and number of a code as typed: small letters, without its dash, with spaces.  Raises ValueError where it is none."""
    plain = "".join(text.upper().replace("-", "").split())
    if len(plain) < 3 or plain[0] not in OF:
        raise ValueError("a code begins with B, T or P and has three signs or more, such as B7K3-Q")
    number = 0
    for sign in plain[1:-1]:
        if sign not in SIGNS:
            raise ValueError(f"“{sign}” is in no code: look again (there is no 0, 1, I, L, O, U or Z in them)")
        number = number * len(SIGNS) + SIGNS.index(sign)
    if not 0 < number < MOST or _check(plain[0], number) != plain[-1]:
        raise ValueError("this code does not add up: one of its signs was misread")
    return plain[0], number


def _check(kind: str, number: int) -> str:
    """Another sign for every change of one sign, or of two neighbours swapped."""
    total, weight, left = ord(kind), 3, number
    while left:
        left, sign = divmod(left, len(SIGNS))
        total += weight * sign
        weight = weight * 7 % 29
    return SIGNS[total % 29]
