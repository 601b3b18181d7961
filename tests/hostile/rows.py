"""Hostile tables of samples by name."""

from functools import cache

CELLS = [
    "1e999",
    "nan",
    "inf",
    "-",
    "9" * 5_000,
    "9" * 2_000_000,
    " " * 900_000,
    '"',
    '"' * 9_001,
    "1e-400",
    "0x1",
    "١",
    "\ud800",
    "1" + "0" * 400,
    "=1+1",
]


@cache
def files():
    out = {
        f"cell {n}": f"seconds,value\n0,1\n1,{cell}\n".encode("utf-8", "surrogatepass") for n, cell in enumerate(CELLS)
    }
    out |= {
        f"time {n}": f"seconds,value\n0,1\n{cell},2\n".encode("utf-8", "surrogatepass") for n, cell in enumerate(CELLS)
    }
    out |= {
        "wide": b"seconds," + b"a," * 900_000 + b"value\n0,1\n", "long": b"seconds,value\n" + b"".join(b"%d,1\n" % k for k in range(400_000)),
        "commas": b"," * 3_900_000, "quotes": b'"' * 3_900_000, "lines": b"\n" * 3_900_000, "one line": b"1" * 3_900_000, "nulls": b"\0" * 900,
        "not utf-8": b"\xff\xfe,1\n2,3", "no rows": b"seconds,value\n", "empty": b"", "no time": b"a,b\n1,2\n", "same time": b"seconds,value\n" + b"0,1\n" * 15_000,
        "backwards": b"seconds,value\n5,1\n4,1\n3,1\n", "semicolons": b"seconds;value\n" + b"0,1;2,5\n" * 9_000,
    }  # fmt: skip
    return out
