ALTER TABLE site DROP journeys;
