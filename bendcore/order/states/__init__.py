"""Where a part may be on its way: states and moves (``moves``), where its faces stand beside a bend (``body``), which
way it faces the operator (``facing``)."""
