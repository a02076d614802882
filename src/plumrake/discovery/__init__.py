"""Discovery: which pages a site has. Each way gives addresses; none reads the pages."""
