"""A scene as those know it that know only keys and layers that carry each other: what it leaves as."""
