"""Is it coming, what now?"""
