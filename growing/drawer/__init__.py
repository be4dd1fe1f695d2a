"""What is still to be bought, tested, soaked or chilled?"""
