"""What style sheets make of a document without a browser: the cascade, inheritance and computed
values (CSS Cascading and Inheritance 5), each with its standing."""
