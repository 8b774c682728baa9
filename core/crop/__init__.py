"""What a crop uses and how much may be taken: catalogue, stages, roots, allowed depletion."""
