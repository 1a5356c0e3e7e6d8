from hypothesis import settings

# The time a case takes is no property; speed goes into benchmarks/.
settings.register_profile("levelmoor", deadline=None, print_blob=True)
settings.load_profile("levelmoor")
