DROP TABLE link_round, link_state;
