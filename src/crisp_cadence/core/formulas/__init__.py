"""Physics alone, for one number and for arrays alike."""
