import type { Piece } from './piece.js'

/** What firing-planner is made of. */
export const plannerPieces: Piece[] = [
  {
    type: 'story',
    title: 'One holder for each shelf and hour',
    requirement: 'BKG-2',
    module: 'booking',
    name: 'isFree',
    code:
      'function isFree(bookings, shelf, hour) {\n  return !bookings.some((booking) => booking.shelf === shelf && ' +
      'booking.hour === hour && !booking.cancelled)\n}',
    test:
      'assert.equal(isFree([{ shelf: 1, hour: 9 }], 1, 9), false)\n' +
      '  assert.equal(isFree([{ shelf: 1, hour: 9, cancelled: true }], 1, 9), true)',
    slip: [' && !booking.cancelled', ''],
  },
  {
    type: 'story',
    title: 'Cancel up to two hours before',
    requirement: 'BKG-3',
    module: 'booking',
    name: 'mayCancel',
    code: 'function mayCancel(startMs, nowMs) {\n  return startMs - nowMs >= 2 * 3600_000\n}',
    test: 'assert.equal(mayCancel(7200_000, 0), true)\n  assert.equal(mayCancel(7199_000, 0), false)',
  },
  {
    type: 'story',
    title: 'Offer a freed place to the first who waits',
    requirement: 'BKG-4',
    module: 'waiting',
    name: 'nextWaiting',
    code: 'function nextWaiting(entries) {\n  return [...entries].sort((a, b) => a.sinceMs - b.sinceMs)[0].member\n}',
    test: "assert.equal(nextWaiting([{ member: 'b', sinceMs: 2 }, { member: 'a', sinceMs: 1 }]), 'a')",
    slip: ['a.sinceMs - b.sinceMs', 'b.sinceMs - a.sinceMs'],
  },
  {
    type: 'defect',
    title: 'Weekly limit counts cancelled bookings',
    requirement: 'BKG-5',
    module: 'limits',
    name: 'hoursThisWeek',
    code:
      'function hoursThisWeek(bookings) {\n  return bookings.filter((booking) => !booking.cancelled).reduce((sum, ' +
      'booking) => sum + booking.hours, 0)\n}',
    test: 'assert.equal(hoursThisWeek([{ hours: 2 }, { hours: 3, cancelled: true }]), 2)',
  },
  {
    type: 'defect',
    title: 'Week begins a day late on Sundays',
    requirement: 'BKG-6',
    module: 'calendar',
    name: 'weekStart',
    code: 'function weekStart(day) {\n  return (day + 6) % 7\n}',
    test: 'assert.equal(weekStart(0), 6)\n  assert.equal(weekStart(1), 0)',
  },
  {
    type: 'story',
    title: 'Refuse pieces that are too tall for the shelf',
    requirement: 'BKG-7',
    module: 'fit',
    name: 'fitsShelf',
    code: 'function fitsShelf(piece, shelf) {\n  return piece.heightMm <= shelf.clearMm - 10\n}',
    test:
      'assert.equal(fitsShelf({ heightMm: 190 }, { clearMm: 200 }), true)\n' +
      '  assert.equal(fitsShelf({ heightMm: 195 }, { clearMm: 200 }), false)',
  },
  {
    type: 'story',
    title: 'Expand weekly reservations',
    requirement: 'BKG-8',
    module: 'series',
    name: 'expandSeries',
    code: 'function expandSeries(first, weeks) {\n  return Array.from({ length: weeks }, (_, index) => first + index * 7)\n}',
    test: 'assert.deepEqual(expandSeries(3, 3), [3, 10, 17])',
  },
  {
    type: 'task',
    title: 'Leave out closed days',
    requirement: 'BKG-9',
    module: 'calendar',
    name: 'openDays',
    code: 'function openDays(days, closed) {\n  return days.filter((day) => !closed.includes(day))\n}',
    test: 'assert.deepEqual(openDays([1, 2, 3], [2]), [1, 3])',
  },
  {
    type: 'story',
    title: 'Prolong a segment that the kiln cannot follow',
    requirement: 'PLN-1',
    module: 'segments',
    name: 'segmentMinutes',
    code: 'function segmentMinutes(segment) {\n  return Math.ceil((Math.abs(segment.to - segment.from) / segment.rampPerHour) * 60)\n}',
    test: 'assert.equal(segmentMinutes({ from: 100, to: 200, rampPerHour: 100 }), 60)',
  },
  {
    type: 'defect',
    title: 'Soak begins before the target is measured',
    requirement: 'PLN-2',
    module: 'segments',
    name: 'soakBegins',
    code: 'function soakBegins(measuredCelsius, targetCelsius) {\n  return measuredCelsius >= targetCelsius - 2\n}',
    test: 'assert.equal(soakBegins(995, 1000), false)\n  assert.equal(soakBegins(998, 1000), true)',
  },
  {
    type: 'defect',
    title: 'Delayed start is an hour off after the clock change',
    requirement: 'PLN-3',
    module: 'calendar',
    name: 'startAt',
    code: 'function startAt(localHour, offsetHours) {\n  return (localHour - offsetHours + 24) % 24\n}',
    test: 'assert.equal(startAt(1, 2), 23)',
  },
  {
    type: 'story',
    title: 'Freeze a schedule when it is queued',
    requirement: 'PLN-5',
    module: 'queue',
    name: 'queueFiring',
    code: 'function queueFiring(schedule) {\n  return Object.freeze({ ...schedule, revision: schedule.revision })\n}',
    test: 'assert.equal(Object.isFrozen(queueFiring({ revision: 2 })), true)',
  },
]

export const plannerMain = `'use strict'
const http = require('node:http')
const { startTelemetry } = require('./telemetry')
const { isFree } = require('./booking')
const { segmentMinutes } = require('./segments')

const telemetry = startTelemetry('firing-planner')
const timer = setInterval(() => {
  telemetry.run('plan firing', { 'user.id': 'member-' + Math.floor(Math.random() * 40) }, () => {
    isFree([{ shelf: 1, hour: 9 }], 1, 10)
    segmentMinutes({ from: 20, to: 600, rampPerHour: 120 })
  })
}, 3000)
const server = http.createServer((request, response) => response.end('{}'))
server.listen(0, '127.0.0.1', () => console.log('listening ' + server.address().port))
function stop() {
  clearInterval(timer)
  server.close()
  telemetry.stop().finally(() => process.exit(0))
}
process.on('SIGTERM', stop)
// Whoever started this program holds its standard input open for as long as it should run.
process.stdin.on('end', stop).resume()
`
