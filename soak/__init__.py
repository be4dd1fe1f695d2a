"""Long attacks, bounded and seeded: walks, kills, mutations, many at once, every address; `python -m soak.run [name …]`."""
