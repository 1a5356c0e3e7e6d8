"""Radio: reflection, sweeps and what is read off them, spectra, bands, lines."""
