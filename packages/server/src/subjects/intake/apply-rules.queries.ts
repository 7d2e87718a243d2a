// Of gatherInto; by the primary key of rule_firing: an open item that gathers what a rule may not log; one row.
export const GET_GATHERING = `SELECT i.key, i.description FROM rule_firing f JOIN item i ON i.key = f.item_key AND i.is_open = 1
  WHERE f.rule_id = @ruleId AND f.outcome = 'gathered' AND f.at_ms > @sinceMs ORDER BY f.at_ms DESC LIMIT 1`
