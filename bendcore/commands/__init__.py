"""The commands, each with no more imported than it needs: ``run`` takes its arguments and gives its result."""
