"""View models: from the core's numbers to what the templates draw. No rule of motion is decided here."""
