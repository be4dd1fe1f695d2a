"""What have I, will it come, how many do I sow?"""
