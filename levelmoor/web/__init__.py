"""The web application: one package for each step of the work, with its routes and templates together."""
