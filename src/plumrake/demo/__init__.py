"""The demo: the Harrowmere Canal Trust, a made-up organisation with a made-up site, its people, and
planted faults with their answer key."""
