"""The shipped faces, and text shaped to outlines with them."""
