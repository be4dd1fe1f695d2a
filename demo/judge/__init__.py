"""Is the rule any better than the habit?  Comparisons of our rules with growers' habits on a nature that knows neither."""
