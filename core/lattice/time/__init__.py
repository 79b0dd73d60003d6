"""When: the cells of a lane, and the step that each of them plays."""
