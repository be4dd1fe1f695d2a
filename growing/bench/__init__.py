"""Where does it stand, does it fit?"""
