"""The way to the network: address guard, fetcher, proxy, limits of pace, what links lead to."""
