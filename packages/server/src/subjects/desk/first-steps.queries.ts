// Of missingSteps; each stops at the first row. The fault's service may have no repository, so it is asked by the service alone.
export const READ_FIRST_STEPS = `WITH mine AS (SELECT value AS project FROM json_each(@projects))
  SELECT EXISTS (SELECT 1 FROM item i WHERE i.project IN (SELECT project FROM mine)) AS item,
    EXISTS (SELECT 1 FROM service s JOIN repository r ON r.name = s.repository WHERE s.project IN (SELECT project FROM mine)) AS code,
    EXISTS (SELECT 1 FROM key_prefix k JOIN requirement q ON q.key >= k.prefix || '-' AND q.key < k.prefix || '.'
      WHERE k.kind = 'requirement' AND k.project IN (SELECT project FROM mine)) AS requirement,
    EXISTS (SELECT 1 FROM membership a JOIN membership b ON b.project = a.project AND b.person_id > a.person_id
      WHERE a.project IN (SELECT project FROM mine)) AS people,
    EXISTS (SELECT 1 FROM service s JOIN build b ON b.repository = s.repository WHERE s.project IN (SELECT project FROM mine)) AS builds,
    EXISTS (SELECT 1 FROM service s JOIN fault f ON f.service = s.name WHERE s.project IN (SELECT project FROM mine)) AS program`
