"""The dated chain: from last frost back to sowing and forward to the harvest, and the steps of a batch between."""
