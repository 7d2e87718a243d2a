// Who may import whom (docs/architecture.md); a new arrow is a decision. Read from the built modules, so build first.
const inside = (from, to, comment) => ({
  name: `${from.replace(/[^a-z]+/g, '-')}-to-${to.replace(/[^a-z]+/g, '-')}`,
  severity: 'error',
  comment,
  from: { path: from, pathNot: '\\.test\\.js$' },
  to: { path: to },
})

module.exports = {
  forbidden: [
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    inside('^packages/core/', '^packages/(server|web|standins)|^e2e', 'core is pure'),
    { name: 'core-is-pure', severity: 'error', from: { path: '^packages/core/dist', pathNot: '\\.test\\.js$' }, to: { dependencyTypes: ['core'] } },
    inside('^packages/core/dist/basics', '^packages/core/dist/(?!basics)'),
    inside('^packages/core/dist/text', '^packages/core/dist/(?!basics|text)'),
    inside('^packages/core/dist/(?!contract)', '^packages/core/dist/contract'),
    inside('^packages/server/', '^packages/(web|standins)|^e2e'),
    inside('^packages/server/dist/(db|config|ports)/', '^packages/server/dist/(queries|journal|services|routes|middleware|workers|cli|adapters)/'),
    inside('^packages/server/dist/journal/', '^packages/server/dist/(services|routes|middleware|workers|cli|adapters|ports)/'),
    inside('^packages/server/dist/queries/', '^packages/server/dist/(services|routes|middleware|journal|cli)/'),
    inside('^packages/server/dist/adapters/', '^packages/server/dist/(services|routes|middleware|journal|queries|cli|db)/'),
    inside('^packages/server/dist/services/', '^packages/server/dist/(routes|middleware|cli)/'),
    inside('^packages/server/dist/(routes|middleware)/', '^packages/server/dist/(cli|db|context|app|server)'),
    inside('^packages/web/', '^packages/(server|standins)|^e2e'),
    inside('^packages/web/dist/types/shared/', '^packages/web/dist/types/(features|app)/'),
    inside('^packages/web/dist/types/features/', '^packages/web/dist/types/app/'),
    {
      name: 'features-by-index',
      severity: 'error',
      from: { path: '^packages/web/dist/types/features/([^/]+)/' },
      to: { path: '^packages/web/dist/types/features/([^/]+)/', pathNot: ['^packages/web/dist/types/features/$1/', '/index\\.js$'] },
    },
    inside('^packages/standins/', '^packages/(server|web)|^e2e'),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: 'packages/web/dist/app|\\.d\\.ts' },

    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.js', '.d.ts'], exportsFields: ['exports'], conditionNames: ['import', 'types'] },
  },
}
