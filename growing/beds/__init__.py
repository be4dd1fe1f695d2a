"""Where will it all go, so how many?"""
