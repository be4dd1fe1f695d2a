"""Text, tables and JSON as people bring them: bytes in, rows and problems out."""
