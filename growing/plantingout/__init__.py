"""May it go?"""
