"""Lottie animations (Lottie Animation Community, specification 1.0) read into scenes."""
