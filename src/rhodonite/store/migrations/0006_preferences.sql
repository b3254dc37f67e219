-- What a person has set for themselves, as a JSON object; what is left out has its usual value.
ALTER TABLE people ADD COLUMN preferences JSON NULL;
