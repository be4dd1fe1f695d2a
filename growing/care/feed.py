"""What does that spoon make of this can?  Milligrams of each element in a litre, salts, and the spoon that is right for the crop.

N [mg/l] = g × % × 10 ÷ litres; of a liquid g = ml × its density; phosphorus 0.436 × P₂O₅, potassium 0.83 × K₂O.  Salts (EC) of the feed: 0.4–0.7
mS/cm for 100 mg/l of nitrogen that is not urea, over what the water has.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from growing.assumptions import real
from growing.working import Value, Working

P_OF_OXIDE, K_OF_OXIDE = 0.436, 0.83
SPOONS_ML = {
    "ml": 1.0, "teaspoon": 5.0, "tablespoon": 15.0, "US teaspoon": 4.92892, "US tablespoon": 14.78676,
    "imperial teaspoon": 5.91939, "imperial tablespoon": 17.75816, "US fl oz": 29.57353, "imperial fl oz": 28.41306,
}  # fmt: skip
EC_A_100 = (0.4, 0.7)  # mS/cm
SEEDLING_EC = 1.5  # up to which seedlings bear it
BAND = (0.67, 1.33)  # of the crop's number: 50–100 for 75
STRENGTHS = ("hungry", "right", "strong")
POWDER_G_ML = real("care.feed.POWDER_G_ML")


class Product(NamedTuple):
    """A feed as its label has it: per cent of N, P, K; oxides: P and K are P₂O₅ and K₂O; g_per_ml: density of a liquid, or of the powder in a spoon;
    None: nobody weighed it.  urea: share of N.  analysis: False for home-made ones of which nobody knows."""

    name: str
    n: float
    p: float
    k: float
    oxides: bool = True
    liquid: bool = False
    g_per_ml: float | None = None
    urea: float = 0.0
    analysis: bool = True

    @property
    def density(self) -> float:
        """Grams of a millilitre."""
        return self.g_per_ml or (1.0 if self.liquid else POWDER_G_ML)


def wrong_product(product: Product) -> str:
    """Why a label cannot be; empty where it can."""
    if not product.analysis:
        return ""
    for name, value in (("N", product.n), ("P", product.p), ("K", product.k)):
        if not 0 <= value <= 100:
            return f"{value:g} % {name} cannot be: give 0 to 100, as on the label"
    if product.n + product.p + product.k > 100:
        return f"{product.n:g} + {product.p:g} + {product.k:g} is over 100 %: look at the label once more"
    if not 0 <= product.urea <= 1:
        return "the share of urea is of the nitrogen: give 0 to 100 %"
    if product.g_per_ml is not None and not 0.1 <= product.g_per_ml <= 3:
        return f"{product.g_per_ml:g} g a ml cannot be: water weighs 1, powders 0.5 to 1.3"
    return ""


def in_spoons(ml: float, spoon: str = "ml") -> str:
    """“2.2 ml”, “0.44 US teaspoons”: so much in a measure of SPOONS_ML."""
    number = ml / SPOONS_ML[spoon]
    plural = "" if number == 1 or spoon.endswith(("ml", "oz")) else "s"
    return f"{round(number, 1 if spoon == 'ml' else 2):g} {spoon}{plural}"


class InCan(NamedTuple):
    """What is in a litre: N, P, K [mg], grams of product, EC from and to [mS/cm]; the working."""

    n: float
    p: float
    k: float
    grams: float
    ec_low: float
    ec_high: float
    working: Working


def in_can(product: Product, amount_ml: float, litres: float, water_ec: float = 0.0) -> InCan:
    """So many ml of the product (level, as it lies in the spoon) in so many litres.  Raises ValueError where it cannot be."""
    if not litres > 0:
        raise ValueError(f"{litres:g} litres is no can: give what you fill it to")
    if amount_ml < 0:
        raise ValueError(f"{amount_ml:g} ml cannot be")
    if not product.analysis:
        raise ValueError(f"nobody knows what is in {product.name}: only its dilution can be said")
    if wrong := wrong_product(product):
        raise ValueError(wrong)
    grams = amount_ml * product.density
    n = grams * product.n * 10 / litres
    p = grams * product.p * 10 / litres * (P_OF_OXIDE if product.oxides else 1.0)
    k = grams * product.k * 10 / litres * (K_OF_OXIDE if product.oxides else 1.0)
    salts = n * (1 - product.urea) / 100
    low, high = (water_ec + each * salts for each in EC_A_100)
    inputs = (
        Value("product", product.name),
        Value("amount", round(amount_ml, 2), "ml"),
        Value("density", product.density, "g/ml", "garden" if product.g_per_ml else "estimate"),
        Value("nitrogen", product.n, "%", "packet"),
        Value("litres", litres, "l"),
        Value("water’s salts", water_ec, "mS/cm"),
    )
    return InCan(
        n, p, k, grams, low, high, Working("care.feed", inputs, (), Value("nitrogen in a litre", round(n), "mg/l"))
    )


def together(parts: Sequence[InCan], water_ec: float = 0.0) -> InCan:
    """Several products in one can of the same litres; the water's salts count once."""
    first = parts[0]
    n, p, k, grams = (sum(getattr(one, name) for one in parts) for name in ("n", "p", "k", "grams"))
    low = water_ec + sum(one.ec_low - water_ec for one in parts)
    high = water_ec + sum(one.ec_high - water_ec for one in parts)
    return InCan(n, p, k, grams, low, high, first.working._replace(steps=tuple(one.working for one in parts[1:])))


def wrong_mix(name: str, not_with: str, other: str, other_not_with: str) -> str:
    """Why two products must not be in one can, by what either label has; empty where none says so."""
    for one, forbids, two in ((name, not_with, other), (other, other_not_with, name)):
        for word in forbids.replace(";", ",").split(","):
            if word.strip() and word.strip().lower() in two.lower():
                return f"{one} must not be in one can with {two}: mix them apart, a day between"
    return ""


class FeedVerdict(NamedTuple):
    """Is it hungry, right or too strong for what wants so much; the amount that is right for this can [ml], level; the working."""

    kind: str
    low: float
    high: float
    right_ml: float
    working: Working


def verdict(
    product: Product,
    found: InCan,
    target_n: float,
    litres: float,
    amount_ml: float,
    spoon: str = "ml",
    beside_n: float = 0.0,
) -> FeedVerdict:
    """Against the crop's nitrogen [mg/l].  spoon: the measure in hand, of SPOONS_ML.  A product without
    nitrogen is judged by nothing but its salts.  beside_n: of what another product in the same can brings [mg/l]."""
    low, high = (share * target_n for share in BAND)
    kind = "hungry" if found.n < low else "right" if found.n <= high else "strong"
    a_ml = product.density * product.n * 10 / litres
    right = max(0.0, target_n - beside_n) / a_ml if a_ml > 0 else 0.0
    inputs = (
        Value("in a litre", round(found.n), "mg/l"),
        Value("low", round(low), "mg/l", "crop"),
        Value("high", round(high), "mg/l", "crop"),
        Value("right", in_spoons(right, spoon)),
        Value("litres", litres, "l"),
    )
    return FeedVerdict(
        kind, low, high, right, Working(f"care.feed_{kind}", inputs, (), Value("right", in_spoons(right, spoon)))
    )


def diluted(parts: float, litres: float) -> float:
    """Of a home-made feed, “1 in `parts`”, so many ml in a can.  Raises ValueError below 1."""
    if parts < 1 or not litres > 0:
        raise ValueError("give one part in so many, at least 1, and litres over 0")
    return 1000 * litres / (1 + parts)


_IN = ("product", "amount", "density", "nitrogen", "litres", "water’s salts")
RULES = {
    "care.feed": _IN,
    **dict.fromkeys((f"care.feed_{kind}" for kind in STRENGTHS), ("in a litre", "low", "high", "right", "litres")),
}
