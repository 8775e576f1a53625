"""A family of parts that only the tests know: what it takes to add one is these three files and a template."""
