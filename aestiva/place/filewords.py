"""What is wrong with a weather file, in words that name row, value and mend."""

from __future__ import annotations

from aestiva.season.sheets import SAID
from growing.files.textfile import FileProblem

_SAY = {
    **SAID,
    "too_big": "The file is larger than {value}, the most that is read: cut it to what you need.",
    "too_many_rows": "The sheet has more than {value} rows: cut it to the years you need.",
    "too_many_days": "The file has more than {value} days: cut it to the years you need.",
    "too_many_problems": "More than {value} rows cannot be read: is this the right file, and is its first row the header?",
    "empty": "The file is empty: choose another.",
    "too_wide": "The first row has {value} columns: only date, tmin and tmax are needed.",
    "no_date_column": "No column is called “date” (found: {value}): name it in the heading.",
    "no_tmin_column": "No column is called “tmin” (found: {value}): name the daily minimum in the first row.",
    "many_stations": "The file holds several stations ({value}): keep one.",
    "no_rows": "There is a header but no day under it.",
    "mixed_dates": "“{value}” does not fit the date order of the rows before it: write all dates as year-month-day.",
    "ambiguous_dates": "Days such as “{value}” could be day/month or month/day: say which before it is kept.",
    "bad_date": "“{value}” is not a day: write it as year-month-day.",
    "bad_number": "“{value}” is not a number.",
    "no_soil_column": "No column is called “soil” or “temperature” (found: {value}): name it in the heading.",
    "to_come": "“{value}” is still to come: check the day.",
    "bad_hour": "“{value}” is not a time of day: write 8, or 8:30.",
    "which_order": "Days such as “{value}” could be day/month or month/day: write them as 10 March, or as year-month-day.",
    "min_above_max": "the minimum is above the maximum ({value} °C): one of them is mistyped.",
    "out_of_range": "{value} °C cannot be: is the unit right?",
    "flat": "the readings stand still, {value}: a stuck sensor; those days are left out.",
    "future": "Days that have not come yet are left out: {value}.",
    "doubtful_unit": "The column says °C, but one day in twenty is over {value}: is it °F? Choose the unit below and read it again.",
    "known_otherwise": "{value}: the station already has another value; the earlier one stays.",
    "contradiction": "a second, different value for {value}: which is right?",
}
_UNITS = {
    "C": "degrees Celsius",
    "F": "degrees Fahrenheit, converted",
    "tenths": "tenths of a degree Celsius, divided by ten",
}

UNIT_CHOICES = (("C", "°C"), ("F", "°F"), ("tenths", "tenths of °C"))


def problem_words(problem: FileProblem) -> str:
    said = _SAY[problem.code].format(value=problem.value)
    return f"Row {problem.row}: {said}" if problem.row else said


def unit_words(unit: str) -> str:
    return _UNITS[unit]
