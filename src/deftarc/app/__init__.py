"""What an open project needs, whoever asks: a browser through web, or the command line."""
