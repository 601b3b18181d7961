"""What goes out as text: drawings with their motion, in open formats."""
