"""What is written on the bench; each module registers its commands."""

from aestiva.bench.commands import hands, plants, stock

__all__ = ["hands", "plants", "stock"]
