"""At the brake: how readings hang on what is off, what to set next, and what a wrong part came from."""
