"""What holds no plant any more stands nowhere: cells, tray and place end with a batch's last plant, and so does the batch.

Asked once at the end of every change that took plants away, inside its entry: whoever takes it back has them where they stood.
"""

from __future__ import annotations

from django.db.models import Q

from aestiva.gardens.journal import ChangeSet
from aestiva.gardens.models import Garden
from aestiva.season.ledgers import balance_of, counted, in_ledgers
from aestiva.season.models import Batch, BatchEvent, BatchLink
from aestiva.season.places import end_stands, leave_trays
from aestiva.season.trouble import CANNOT
from growing.batch.history import COUNTED
from growing.batch.ledger import Accounts
from growing.place.kinds import SOIL

TAKES = COUNTED - {"sown", "received"}


def end_what_is_over(write: ChangeSet) -> None:
    """End the placements of those batches of which this change took the last plant; of which all died, the batch too."""
    over = Q(failed_on=None) | Q(runs__until=None) | Q(stands__until=None)
    here = Batch.objects.filter(over, pk__in=_fewer(write)).distinct()
    for batch in in_ledgers(here).order_by("pk"):
        found = balance_of(batch)[0]
        if found.spent:
            end(write, batch, found)


def end_ghosts(garden: Garden) -> None:
    """Placements of batches that are over, as documents from before brought them: ended on the day on which the last plant left."""
    write = ChangeSet(garden, "")
    theirs = Batch.objects.filter(planting__season__garden=garden)
    here = theirs.filter(Q(runs__until=None, runs__isnull=False) | Q(stands__until=None, stands__isnull=False))
    for batch in in_ledgers(here.distinct()).order_by("pk"):
        try:
            found = balance_of(batch)[0]
            if found.spent and counted(batch):
                end(write, batch, found)
        except CANNOT:  # what does not hold together is said by the checks that come after
            continue


def end(write: ChangeSet, batch: Batch, found: Accounts) -> None:
    """A batch with nothing left indoors leaves its trays and its place, but for a bed in which some stand."""
    on = counted(batch)[-1].on
    leave_trays(write, batch, on)
    if not (found.outdoors and batch.stands.filter(until=None, spot__kind__in=SOIL).exists()):
        end_stands(write, batch, on)
    if found.lost and batch.failed_on is None:
        row = write.fresh(batch)
        row.failed_on = on
        write.save(row)


def _fewer(write: ChangeSet) -> set[int]:
    """Batches of which this change may have left none."""
    found: set[int] = set()
    for change in write.changes:
        row = change["after"] or change["before"]
        if change["model"] == BatchEvent._meta.label and row["kind"] in TAKES:
            found.add(row["batch_id"])
        elif change["model"] == BatchLink._meta.label:
            found.add(row["parent_id"])
    return found
