import type { Piece } from './piece.js'

/** What kiln-controller is made of, in the order in which it grew. */
export const kilnPieces: Piece[] = [
  {
    type: 'story',
    title: 'Open the contactor above the rated limit',
    requirement: 'SAF-2',
    module: 'limiter',
    name: 'limiterOpens',
    code: 'function limiterOpens(celsius, ratedCelsius) {\n  return celsius > ratedCelsius + 15\n}',
    test: 'assert.equal(limiterOpens(1316, 1300), true)\n  assert.equal(limiterOpens(1314, 1300), false)',
    slip: ['> ratedCelsius + 15', '> ratedCelsius'],
  },
  {
    type: 'story',
    title: 'Recognise an open thermocouple',
    requirement: 'SAF-3',
    module: 'probe',
    name: 'isOpenCircuit',
    code: 'function isOpenCircuit(millivolts) {\n  return millivolts === null || millivolts > 75 || millivolts < -7\n}',
    test: 'assert.equal(isOpenCircuit(null), true)\n  assert.equal(isOpenCircuit(41), false)',
  },
  {
    type: 'story',
    title: 'Read a kiln’s temperature from its probe',
    requirement: 'SAF-3',
    module: 'probe',
    name: 'readCelsius',
    code: 'function readCelsius(probe) {\n  const reading = probe.last\n  return Math.round(reading.celsius * 10) / 10\n}',
    test: 'assert.equal(readCelsius({ last: { celsius: 812.34 } }), 812.3)',
  },
  {
    type: 'story',
    title: 'Correct for the temperature of the terminals',
    requirement: 'SAF-4',
    module: 'probe',
    name: 'correctForTerminals',
    code: 'function correctForTerminals(celsius, terminalCelsius) {\n  return celsius + (terminalCelsius - 20)\n}',
    test: 'assert.equal(correctForTerminals(1000, 35), 1015)',
  },
  {
    type: 'defect',
    title: 'Terminal correction is taken only at start-up',
    requirement: 'SAF-4',
    module: 'probe',
    name: 'shouldSampleTerminals',
    code: 'function shouldSampleTerminals(nowMs, lastMs) {\n  return nowMs - lastMs >= 5000\n}',
    test: 'assert.equal(shouldSampleTerminals(6000, 0), true)\n  assert.equal(shouldSampleTerminals(4000, 0), false)',
  },
  {
    type: 'story',
    title: 'Continue after a short mains failure',
    requirement: 'SAF-5',
    module: 'resume',
    name: 'mayResume',
    code: 'function mayResume(outageMinutes) {\n  return outageMinutes <= 20\n}',
    test: 'assert.equal(mayResume(20), true)\n  assert.equal(mayResume(21), false)',
    slip: ['<= 20', '< 20'],
  },
  {
    type: 'story',
    title: 'Notice a relay that does not open',
    requirement: 'SAF-6',
    module: 'relay',
    name: 'isStuckClosed',
    code: 'function isStuckClosed(commandedClosed, currentAmps) {\n  return !commandedClosed && currentAmps > 0.5\n}',
    test: 'assert.equal(isStuckClosed(false, 12), true)\n  assert.equal(isStuckClosed(true, 12), false)',
  },
  {
    type: 'defect',
    title: 'Switching counter wraps at 16 bits',
    requirement: 'SAF-6',
    module: 'relay',
    name: 'countSwitching',
    code: 'function countSwitching(total) {\n  return total + 1\n}',
    test: 'assert.equal(countSwitching(65535), 65536)',
    slip: ['return total + 1', 'return (total + 1) & 0xffff'],
  },
  {
    type: 'story',
    title: 'Pause heating while the door is open',
    requirement: 'SAF-7',
    module: 'door',
    name: 'dutyWithDoor',
    code: 'function dutyWithDoor(duty, isDoorOpen) {\n  return isDoorOpen ? 0 : duty\n}',
    test: 'assert.equal(dutyWithDoor(0.7, true), 0)\n  assert.equal(dutyWithDoor(0.7, false), 0.7)',
  },
  {
    type: 'task',
    title: 'Share heat evenly among the zones',
    requirement: 'SAF-8',
    module: 'zones',
    name: 'zoneSpread',
    code: 'function zoneSpread(zones) {\n  return Math.max(...zones) - Math.min(...zones)\n}',
    mergeSlip: ['- Math.min(...zones)', '- Math.max(...zones)'],
    test: 'assert.equal(zoneSpread([1000, 1004, 998]), 6)',
  },
  {
    type: 'story',
    title: 'Stop by hand within one second',
    requirement: 'SAF-9',
    module: 'relay',
    name: 'stopByHand',
    code: "function stopByHand(kiln) {\n  return { ...kiln, relay: 'open', stoppedBy: 'hand' }\n}",
    test: "assert.equal(stopByHand({ id: 1 }).relay, 'open')",
  },
  {
    type: 'story',
    title: 'Cool no faster than the schedule says',
    requirement: 'SAF-10',
    module: 'cooling',
    name: 'coolingDuty',
    code:
      'function coolingDuty(ratePerHour, maxRatePerHour) {\n' +
      '  return ratePerHour > maxRatePerHour ? Math.min(1, (ratePerHour - maxRatePerHour) / 100) : 0\n}',
    test: 'assert.equal(coolingDuty(150, 100), 0.5)\n  assert.equal(coolingDuty(80, 100), 0)',
  },
  {
    type: 'defect',
    title: 'Panel shows minus degrees while it warms up',
    requirement: 'SAF-11',
    module: 'panel',
    name: 'panelText',
    code: 'function panelText(celsius) {\n  return celsius === null ? "--- °C" : `${Math.max(0, Math.round(celsius))} °C`\n}',
    test: "assert.equal(panelText(null), '--- °C')\n  assert.equal(panelText(-2), '0 °C')",
  },
  {
    type: 'task',
    title: 'Keep the controller’s clock within two seconds',
    requirement: 'SAF-12',
    module: 'clock',
    name: 'clockDriftMs',
    code: 'function clockDriftMs(localMs, serverMs) {\n  return Math.abs(localMs - serverMs)\n}',
    test: 'assert.equal(clockDriftMs(1000, 3500), 2500)',
  },
]

export const kilnMain = `'use strict'
// Runs three kilns: reads each probe twice a second and sets its relay. The port that it prints takes POST /unplug?kiln=1 and /plug?kiln=1.
const http = require('node:http')
const { startTelemetry } = require('./telemetry')
const { readCelsius } = require('./probe')
const { limiterOpens } = require('./limiter')

const telemetry = startTelemetry('kiln-controller')
const unplugged = new Set((process.env.UNPLUGGED || '').split(',').filter(Boolean))
const kilns = [1, 2, 3].map((id) => ({ id, relay: 'closed', probe: { last: { celsius: 400 + id * 100 } } }))

function controlKiln(kiln) {
  kiln.probe.last = unplugged.has(String(kiln.id)) ? undefined : { celsius: 400 + kiln.id * 100 + Math.random() * 5 }
  const celsius = readCelsius(kiln.probe)
  kiln.relay = celsius === null || limiterOpens(celsius, 1300) ? 'open' : 'closed'
}

const timer = setInterval(() => {
  for (const kiln of kilns) telemetry.run('control kiln', { 'kiln.id': kiln.id, 'user.id': 'member-' + kiln.id }, () => controlKiln(kiln))
}, 600)

const server = http.createServer((request, response) => {
  const url = new URL(request.url, 'http://localhost')
  const kiln = url.searchParams.get('kiln')
  if (request.method === 'POST' && url.pathname === '/unplug') unplugged.add(kiln)
  if (request.method === 'POST' && url.pathname === '/plug') unplugged.delete(kiln)
  response.setHeader('content-type', 'application/json')
  response.end(JSON.stringify({ unplugged: [...unplugged], kilns: kilns.map(({ id, relay }) => ({ id, relay })) }))
})
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
