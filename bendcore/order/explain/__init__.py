"""What is told and shown of a move and an order: ``examine`` what goes wrong and how deep, ``why`` what each step would
cost otherwise, ``frames`` a step seen from the side, ``scene`` in space."""
