"""What instruments say: kinds, units, the layer each sensor stands for, trust."""
