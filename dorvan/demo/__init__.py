"""The demo shop: Tarn Lane Sheet Works, filled in by one command."""
