"""What is written of hardening off; each module registers its commands."""

from aestiva.hardening.commands import door, home

__all__ = ["door", "home"]
