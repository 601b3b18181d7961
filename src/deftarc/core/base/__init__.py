"""What everything here is made with: errors, limits, the frozen model, arrays, matrices, time, numbers as typed."""
