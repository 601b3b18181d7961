"""The numbers of what is selected."""
