"""A real WordPress with a made-up site of its own: the Tarn Vale Botanic Garden."""
