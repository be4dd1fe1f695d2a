"""What goes out today, for how long?"""
