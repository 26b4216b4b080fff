/** One way through the house: ui → tools, scene → state → growth → runner → document → core; storage and formats at the edges. */
const below = (layer, allowed) => ({
  name: `${layer}-imports-down-only`,
  severity: 'error',
  // Tests may look anywhere for something independent to compare with.
  from: { path: `^src/${layer}/`, pathNot: '\\.test\\.ts$' },
  to: { path: '^src/', pathNot: [`^src/${layer}/`, ...allowed.map((name) => `^src/${name}/`)] },
})

module.exports = {
  forbidden: [
    below('core', []),
    below('document', ['core']),
    below('formats', ['core', 'document']),
    below('demo', ['core', 'document', 'formats']),
    below('storage', ['core', 'document']),
    below('runner', ['core', 'document', 'formats', 'demo']),
    below('growth', ['core', 'document', 'runner']),
    below('state', ['core', 'document', 'formats', 'runner', 'growth', 'storage']),
    below('tools', ['core', 'document', 'state']),
    below('scene', ['core', 'document', 'runner', 'growth', 'state']),
    below('ui', ['core', 'document', 'formats', 'runner', 'growth', 'state', 'storage', 'tools', 'scene']),
    {
      // A parser of expressions, a hash and a tree over triangles, all pure; the tree takes three's geometry, never its renderer.
      name: 'core-knows-few-packages',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$' },
      to: { path: 'node_modules', pathNot: 'node_modules/(jsep|@noble/hashes|three-mesh-bvh|three|@types/three)/' },
    },
    {
      name: 'no-react-below-the-interface',
      severity: 'error',
      from: { path: '^src/(core|document|formats|demo|storage|runner|growth|state|tools)/' },
      to: { path: 'node_modules/(react|react-dom|@chakra-ui|@react-three)/' },
    },
    {
      name: 'three-below-the-picture-only-for-meshes',
      severity: 'error',
      from: { path: '^src/(core|document|formats|demo|storage|runner|growth|state|tools)/', pathNot: '(^src/core/grounds/mesh|^src/formats/mesh-files|\\.test\\.ts$)' },
      to: { path: 'node_modules/three/' },
    },
    {
      name: 'gate-loads-no-three',
      severity: 'error',
      from: { path: '^src/ui/(gate|parts)/' },
      to: { path: 'node_modules/(three|@react-three)/', reachable: true },
    },
    {
      name: 'testing-is-for-tests',
      severity: 'error',
      from: { pathNot: '(\\.test\\.ts$|^src/testing/|^e2e/)' },
      to: { path: '^src/testing/' },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    { name: 'no-orphans', severity: 'error', from: { orphan: true, pathNot: '\\.(d|test|config)\\.ts$' }, to: {} },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'default'] },
  },
}
