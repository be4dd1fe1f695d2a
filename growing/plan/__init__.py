"""When, for everything at once?"""
