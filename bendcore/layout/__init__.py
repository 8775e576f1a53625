"""Getting the flat onto the sheet: running marks, the steps of marking out, full-size templates."""
