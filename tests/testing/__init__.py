"""Reading pages in the tests of whoever builds them."""
