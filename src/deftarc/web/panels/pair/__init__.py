"""The value and the speed curve, one above the other."""
