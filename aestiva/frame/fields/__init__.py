"""The fields of every form: how many, which day, what hour, how long, how far, how much, how heavy, how warm, what price, which of ours.

Each reads as its reader writes (units, clock, a comma or a point), keeps what is stored (°C, cm, ml or litres, g, hours from
0 to 24, money as decimals), says the same words for the same error, and tells what it takes (`schema`), which is all that
an address for scripts knows of it.  A form binds its fields once, to whom it is read to: `TypedForm`.
"""

from aestiva.frame.fields.amounts import Amount, Count, Day, Degrees, Duration, Hour, Length, Price, Volume, Weight
from aestiva.frame.fields.lines import Lines, Objects
from aestiva.frame.fields.rows import Row, Rows
from aestiva.frame.fields.typed import Bound, TypedForm, schema_of
from aestiva.frame.fields.words import Choice, Flag, Keys, Text, Words, alike

__all__ = [
    "Amount",
    "Bound",
    "Choice",
    "Count",
    "Day",
    "Degrees",
    "Duration",
    "Flag",
    "Hour",
    "Keys",
    "Length",
    "Lines",
    "Objects",
    "Price",
    "Row",
    "Rows",
    "Text",
    "TypedForm",
    "Volume",
    "Weight",
    "Words",
    "alike",
    "schema_of",
]
