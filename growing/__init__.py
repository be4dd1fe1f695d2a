"""Rules and computation of raising transplants: pure functions, no interface, no clock."""
