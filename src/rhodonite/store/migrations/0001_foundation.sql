-- People, access and the dispatch tray.
CREATE TABLE organisation (
  id TINYINT NOT NULL PRIMARY KEY CHECK (id = 1),
  name VARCHAR(200) NOT NULL,
  demo BOOLEAN NOT NULL DEFAULT FALSE,
  created_at DATETIME(6) NOT NULL
);

CREATE TABLE people (
  id UUID NOT NULL PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  email VARCHAR(254) NOT NULL,
  role VARCHAR(16) NOT NULL,
  title VARCHAR(120) NOT NULL DEFAULT '',
  colour TINYINT NOT NULL DEFAULT 0,
  active BOOLEAN NOT NULL DEFAULT TRUE,
  password_hash VARCHAR(200) NULL,
  created_at DATETIME(6) NOT NULL,
  UNIQUE KEY people_email (email),
  FULLTEXT KEY people_words (name)
);

CREATE TABLE sessions (
  token_hash BINARY(32) NOT NULL PRIMARY KEY,
  person_id UUID NOT NULL,
  created_at DATETIME(6) NOT NULL,
  expires_at DATETIME(6) NOT NULL,
  KEY sessions_person (person_id),
  KEY sessions_expiry (expires_at),
  CONSTRAINT sessions_of FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE
);

CREATE TABLE sign_in_attempts (
  id BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY,
  email VARCHAR(254) NOT NULL,
  address VARCHAR(64) NOT NULL,
  at DATETIME(6) NOT NULL,
  KEY attempts_email (email, at),
  KEY attempts_address (address, at),
  KEY attempts_at (at)
);

CREATE TABLE invitations (
  token_hash BINARY(32) NOT NULL PRIMARY KEY,
  person_id UUID NOT NULL,
  invited_by UUID NOT NULL,
  created_at DATETIME(6) NOT NULL,
  expires_at DATETIME(6) NOT NULL,
  accepted_at DATETIME(6) NULL,
  CONSTRAINT invitations_person FOREIGN KEY (person_id) REFERENCES people (id) ON DELETE CASCADE,
  CONSTRAINT invitations_by FOREIGN KEY (invited_by) REFERENCES people (id) ON DELETE CASCADE
);

CREATE TABLE dispatches (
  id UUID NOT NULL PRIMARY KEY,
  channel VARCHAR(16) NOT NULL,
  recipient VARCHAR(254) NOT NULL,
  subject VARCHAR(300) NOT NULL,
  body MEDIUMTEXT NOT NULL,
  sent_at DATETIME(6) NOT NULL,
  KEY dispatches_sent (sent_at)
);

-- The worker says here that it is alive.
CREATE TABLE heartbeats (
  part VARCHAR(32) NOT NULL PRIMARY KEY,
  at DATETIME(6) NOT NULL
);
