"""Speed measures and their floors; `python -m measures.run [name …]` prints a line a measure."""
