"""What is written of care; each module registers its commands."""

from aestiva.care.commands import feeds, moving, round, tools, trouble

__all__ = ["feeds", "moving", "round", "tools", "trouble"]
