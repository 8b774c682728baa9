"""Simulated stand-ins for devices and services outside the application."""
