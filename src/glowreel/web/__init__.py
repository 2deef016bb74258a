"""Flask: one blueprint for each area, its templates beside it. Routes turn requests into services and back."""
