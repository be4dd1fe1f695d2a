"""What commands about batches share."""

from __future__ import annotations

from aestiva.frame.fields import Row
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command
from aestiva.season.models import Batch

OF_BATCH = "planting__season__garden"


class OfBatch(Command):
    """About one batch, which is held while it is written about."""

    scope = "tasks"

    batch = Row(Batch, OF_BATCH, related=("planting",))

    @property
    def of(self) -> Batch:
        """The batch, as it was read."""
        found: Batch = self.cleaned_data["batch"]
        return found

    def held(self, write: ChangeSet) -> Batch:
        """The batch as it is now, held; raises Stale where the page showed another."""
        return write.touch(self.of, self.seen)
