// Of noteDelivery.
export const INSERT_DELIVERY =
  'INSERT INTO delivery (at_ms, sender, kind, data, outcome, why) VALUES (@nowMs, @sender, @kind, @data, @outcome, @why)'

// Of noteDelivery; by delivery_sender; leaves the newest of each sender.
export const DELETE_OLD_DELIVERIES = `DELETE FROM delivery WHERE sender = @sender
  AND delivery_id <= (SELECT delivery_id FROM delivery WHERE sender = @sender ORDER BY delivery_id DESC LIMIT 1 OFFSET @kept)`

// Of listDeliveries; by the primary key; at most @limit rows.
export const LIST_DELIVERY = `SELECT delivery_id AS deliveryId, at_ms AS atMs, sender, kind, outcome, why FROM delivery
  WHERE delivery_id > 0
    ORDER BY delivery_id DESC LIMIT @limit`

// Of replayDelivery; by the primary key; one row.
export const GET_DELIVERY = 'SELECT data, sender FROM delivery WHERE delivery_id = @deliveryId'
