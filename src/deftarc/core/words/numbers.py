"""Numbers and times in words, exactly: what is written reads back as the very same float, the very same flick."""

from decimal import Decimal, InvalidOperation, localcontext

from deftarc.core.base.time import FrameRate

#: Digits after the point of a frame that any flick can be told by: a frame has fewer than 10⁹ of them.
MOST_DIGITS = 10


def written(value: float, factor: float = 1.0) -> str:
    """A float times 1 or 100, as the shortest decimal that ``number_of`` reads back as it."""
    told = Decimal(repr(value)) * (100 if factor == 100 else 1)
    text = f"{told.normalize():f}" if abs(told.adjusted()) < 20 else str(told.normalize())
    return "0" if text in ("-0", "0E+2") else text


def number_of(text: str, factor: float = 1.0) -> float:
    """The float that a decimal over 1 or 100 is nearest to. ValueError where it is no number."""
    try:
        with localcontext() as exact:
            exact.prec = 400
            return float(Decimal(text.replace("−", "-")) / (100 if factor == 100 else 1))
    except (InvalidOperation, OverflowError):
        raise ValueError(text) from None


def written_time(time: int, rate: FrameRate) -> str:
    """A moment in frames: ``50f``, or with as many digits as it takes."""
    frames, rest = divmod(time, rate.flicks)
    if not rest:
        return f"{frames}f"
    for digits in range(1, MOST_DIGITS):
        told = round(Decimal(time) / rate.flicks, digits)
        if round(told * rate.flicks) == time:
            return f"{told.normalize():f}f"
    return f"{Decimal(time) / rate.flicks:f}f"
