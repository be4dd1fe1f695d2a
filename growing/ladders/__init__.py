"""What hardens it off: ladders of outings as data, the weather a batch climbs them in, who is home to carry, and by when."""
