"""Is the light enough, how high does the lamp hang, how long does it burn?"""
