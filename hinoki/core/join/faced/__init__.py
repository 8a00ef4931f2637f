"""Half joints: one side of a joint on a face that nothing was cut at."""
