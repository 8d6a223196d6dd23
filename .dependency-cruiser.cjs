/** Which folder may import which: the arrows of docs/ARCHITECTURE.md. */
const may = { core: ['kernels'], document: [], server: ['core', 'document', 'kernels'], web: ['core', 'document', 'kernels'], rig: ['core'], e2e: [] };
const rules = Object.entries(may).map(([from, to]) => ({
  name: `${from}-imports`,
  severity: 'error',
  comment: `${from} may import only ${to.join(', ') || 'nothing'} of the other parts`,
  from: { path: `^${from}/src` },
  to: { path: `^(${Object.keys(may).concat('kernels').filter((part) => part !== from && !to.includes(part)).join('|')})/` },
}));
module.exports = {
  forbidden: [
    ...rules,
    { name: 'core-stands-alone', severity: 'error', from: { path: '^(core|document)/src' }, to: { dependencyTypes: ['core'] } },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
    { name: 'resolvable', severity: 'error', from: {}, to: { couldNotResolve: true, pathNot: '[?]url$' } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(dist|build)/' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types', 'default'], extensions: ['.ts', '.tsx', '.js', '.json'] },
  },
};
