"""Figures against the budgets: `make bench` prints each with its bar. Ratios are taken in one run."""
