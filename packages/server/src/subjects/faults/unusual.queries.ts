// Of readUnusual; by occurrence_group and the primary key of resource.
export const LIST_OWN_OCCURRENCE = `SELECT o.attributes, r.attributes AS resource FROM occurrence o
    JOIN resource r ON r.digest = o.resource_digest
    WHERE o.fingerprint = @fingerprint ORDER BY o.occurrence_id DESC LIMIT @limit`

// Of readUnusual; by the primary key: of each attribute the hours asked for.
export const LIST_TRAFFIC_VALUE = `SELECT t.attribute, t.value, sum(t.count) AS count FROM json_each(@attributes) a
    JOIN traffic_value t ON t.service = @service AND t.attribute = a.value AND t.hour BETWEEN @fromHour AND @toHour
      GROUP BY t.attribute, t.value`

// Of readUnusual; by fault_group_service and occurrence_group.
export const LIST_OTHER_OCCURRENCE = `SELECT o.attributes, r.attributes AS resource FROM fault_group g
    JOIN occurrence o ON o.fingerprint = g.fingerprint
    JOIN resource r ON r.digest = o.resource_digest WHERE g.service = @service AND g.fingerprint <> @fingerprint LIMIT @limit`
