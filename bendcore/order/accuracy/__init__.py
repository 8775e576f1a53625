"""What an order does to the sizes: ``finished`` how errors move a dimension, ``stackup`` what is to be expected of
each."""
