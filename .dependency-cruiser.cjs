// The walls between the rooms (docs/ARCHITECTURE.md): a room may use the rooms below it only.
const wall = (room, ...mayUse) => ({
  name: `walls-of-${room.replace(/\W+/g, '-')}`,
  comment: `${room} may use ${[room, ...mayUse].join(', ')} and packages only`,
  severity: 'error',
  from: { path: `^${room}/`, pathNot: '\\.test\\.tsx?$|/testing/' },
  to: { path: '^(src|lab|e2e|scripts)/', pathNot: `^(${[room, ...mayUse].join('|')})/` },
});

module.exports = {
  forbidden: [
    wall('src/core'),
    wall('src/live', 'src/core'),
    wall('src/server', 'src/core'),
    wall('src/ui', 'src/live', 'src/core'),
    wall('src/app', 'src/ui', 'src/live', 'src/server', 'src/core'),
    wall('lab', 'src/core'),
    {
      name: 'core-is-plain',
      comment: 'the core runs in the audio thread, in workers and in Node: only zod, and only at its door',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$|/testing/' },
      to: { dependencyTypes: ['npm', 'npm-dev', 'core'], pathNot: 'node_modules/zod/' },
    },
    {
      name: 'zod-from-one-place',
      comment: 'it is configured in src/core/zod.ts, before any schema is made',
      severity: 'error',
      from: { path: '^(src|lab|e2e)/', pathNot: '^src/core/zod(-parts)?\\.ts$' },
      to: { path: 'node_modules/zod/|^src/core/zod-parts' },
    },
    {
      name: 'zod-stays-out-of-the-audio-thread',
      severity: 'error',
      from: { path: '^src/live/worklet/' },
      to: { path: 'node_modules/zod/', reachable: true },
    },
    // Types count: two files that know each other are one.
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    { name: 'no-strays', severity: 'error', from: { orphan: true, path: '^src/', pathNot: '\\.(d|as)\\.ts$|^src/live/generated/|^src/app/' }, to: {} },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    exclude: { path: '^src/live/generated/' },
  },
};
