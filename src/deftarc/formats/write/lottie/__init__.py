"""Pieces and heaps as a Lottie animation (Lottie Animation Community, specification 1.0)."""
