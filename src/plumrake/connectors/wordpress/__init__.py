"""Real WordPress: its items read, written and told apart, and the plugin that asks the gate."""
