"""What goes out as a picture or a movie: one file a kind."""
