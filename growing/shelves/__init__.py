"""What stands on a shelf, and what does it take: containers, room, height, how seed is laid in them, who may stand together."""
