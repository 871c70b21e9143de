// A worker ends with the runner, whatever a test has left open.
process.once('disconnect', () => process.exit());
// What a test starts is not to be started like a test.
delete process.env.NODE_OPTIONS;
