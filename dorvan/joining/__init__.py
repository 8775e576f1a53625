"""The join list of a kit: what is joined where, with what, and in which order."""
