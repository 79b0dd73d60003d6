/**
 * Imports go down: no file leads back to itself, and each room of src stands on one floor and imports only from
 * the floors below it. A new room has to be given its floor here.
 */
const FLOORS = [
  ['generated'],
  ['api', 'ports'],
  ['app', 'session'],
  ['past', 'melody', 'guide'],
  ['pattern'],
  ['drum', 'say'],
  ['sound'],
  ['sentence', 'writing', 'chords', 'library', 'ride', 'trim', 'wave'],
  ['leaving', 'links'],
  ['account', 'clip', 'strands', 'begin', 'throws'],
  ['shelf'],
  ['pieces', 'trail'],
  ['arriving', 'order', 'lattice'],
  ['cuttings', 'draw', 'keys'],
  ['midi'],
  ['piece', 'shared'],
]
const ALL = FLOORS.flat().join('|')

export default {
  forbidden: [
    { name: 'no-circle', severity: 'error', from: {}, to: { circular: true } },
    { name: 'a-floor-for-each-room', severity: 'error', from: {}, to: { path: `^src/(?!(${ALL})/)[^/]+/` } },
    ...FLOORS.flatMap((rooms, floor) => rooms.map((room) => ({
      name: `${room}-imports-from-below`,
      severity: 'error',
      from: { path: `^src/${room}/` },
      to: { path: `^src/(${FLOORS.slice(floor).flat().filter((other) => other !== room).join('|') || '-'})/|^src/[^/]+$` },
    }))),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
  },
}
