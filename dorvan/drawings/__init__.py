"""From figures in mm to shapes on the page: fitting, placing and wording only."""
