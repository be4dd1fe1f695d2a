"""The rules of the bench, and the inputs that each may show."""

_SOWING = ("sow", "days left", "wanted", "odds", "seeds per cell", "seeds")
RULES = {
    **{f"bench.buy_{stood}": ("plant out", "ladder") for stood in ("glass", "outdoors", "unknown")},
    **{
        f"bench.{kind}{late}": inputs
        for late in ("", "_late")
        for kind, inputs in (
            ("sow", _SOWING),
            ("sow_box", _SOWING),
            ("sow_hopeless", ("sow", "days left", "wanted", "emergence", "seeds per cell")),
            ("sow_direct", ("sow", "days left")),
        )
    },
}
