"""Outlines on the ground: validity, ellipsoidal area, overlap, splitting, reprojection."""
