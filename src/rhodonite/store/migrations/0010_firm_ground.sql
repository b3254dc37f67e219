-- Browsers in which a person has signed in: from there a right password is never turned away.
CREATE TABLE known_browsers (
  token_hash BINARY(32) NOT NULL PRIMARY KEY,
  person_id UUID NOT NULL,
  seen_at DATETIME(6) NOT NULL,
  KEY known_browsers_person (person_id, seen_at),
  CONSTRAINT known_browsers_of FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE
);

-- Counted up whenever somebody's access may have ended otherwise than by a change to a project; live streams look again then.
CREATE TABLE access_version (
  id TINYINT NOT NULL PRIMARY KEY CHECK (id = 1),
  version BIGINT NOT NULL
);

-- Failed sign-ins are counted by e-mail and address together.
ALTER TABLE sign_in_attempts ADD KEY attempts_both (email, address, at);

-- The address of a subscribed calendar ends some day; those that there are, a year from now.
ALTER TABLE subscriptions
  ADD COLUMN expires_at DATETIME(6) NULL AFTER at,
  ADD COLUMN read_at DATETIME(6) NULL AFTER expires_at;

UPDATE subscriptions SET expires_at = UTC_TIMESTAMP(6) + INTERVAL 365 DAY;

ALTER TABLE subscriptions MODIFY COLUMN expires_at DATETIME(6) NOT NULL;

-- What was deleted can be taken back.
ALTER TABLE agreed_plans ADD COLUMN deleted_at DATETIME(6) NULL;
ALTER TABLE states ADD COLUMN deleted_at DATETIME(6) NULL;
ALTER TABLE calendars ADD COLUMN deleted_at DATETIME(6) NULL;
