"""What do they need, are they ready to move?"""
