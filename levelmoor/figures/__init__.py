"""Figures as SVG from core objects: the page, the report and the command line draw the same."""
