"""What would help. ``remedies`` are the ways out of a part that cannot be made, ``trying`` proves each (``variants``
its forms, ``resizing`` its sizes, ``handwork`` by hand); ``limits`` is how high and how narrow a brake can bend at all,
``doubts`` which size of a measured brake is wrong."""
