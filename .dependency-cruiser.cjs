/** Which folder may import which: the arrows of docs/ARCHITECTURE.md. */
const may = { core: ['kernels', 'document'], document: [], server: ['core', 'document', 'kernels'], web: ['core', 'document', 'kernels'], rig: ['core', 'kernels'], e2e: [] };
const rules = Object.entries(may).map(([from, to]) => ({
  name: `${from}-imports`,
  severity: 'error',
  comment: `${from} may import only ${to.join(', ') || 'nothing'} of the other parts`,
  from: { path: `^${from}/src` },
  to: { path: `^(${Object.keys(may).concat('kernels').filter((part) => part !== from && !to.includes(part)).join('|')})/` },
}));
/** Folders of the core: each may import from those before it only. */
const layers = ['blend', 'kernels', 'image', 'geometry', 'colour', 'align', 'intake', 'finish', 'merge', 'mask', 'mix', 'window', 'light', 'found', 'kind', 'area', 'pass', 'graph', 'clean', 'heal', 'propose', 'method', 'read', 'set'];
const downwards = layers.map((layer, k) => ({
  name: `core-${layer}-imports`,
  severity: 'error',
  comment: `core/src/${layer} may import only ${layers.slice(0, k).join(', ') || 'nothing'} of the core`,
  from: { path: `^core/src/${layer}/` },
  to: { path: '^core/src/', pathNot: `^core/src/(${layers.slice(0, k + 1).join('|')})/` },
}));
module.exports = {
  forbidden: [
    ...rules,
    ...downwards,
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
