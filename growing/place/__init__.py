"""When is it safe, and how sure is that?"""
