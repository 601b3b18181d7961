"""Time to measure: the time curve, its inverse, joints, and eases as shapes of segments."""
