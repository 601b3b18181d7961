"""The JSON API that the interface itself uses, documented at /docs."""
