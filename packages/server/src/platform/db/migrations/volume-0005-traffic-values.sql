-- What the work of a service looks like, hour by hour: how often each value of an attribute was seen. Beyond so many values the rest is '…'.
CREATE TABLE traffic_value (
  service TEXT NOT NULL, attribute TEXT NOT NULL, hour INTEGER NOT NULL, value TEXT NOT NULL, count INTEGER NOT NULL, PRIMARY KEY (service, attribute, hour, value)
) STRICT, WITHOUT ROWID;
CREATE INDEX traffic_value_hour ON traffic_value (hour);
