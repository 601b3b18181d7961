"""The painter of stills and movies."""
