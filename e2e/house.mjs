/** One process in which server after server is started and stopped for the tests: to read its code takes as long as a short test. */
import { serve } from '../apps/server/dist/serve.js';

/** Those that run, by the address that they were told. */
const running = new Map();

process.on('message', async ({ turn, database, stop }) => {
  try {
    if (stop) {
      await running.get(stop)?.stop();
      running.delete(stop);
      process.send({ turn, address: '' });
    } else {
      const serving = await serve({ database, demo: true, port: 0 });
      running.set(serving.address, serving);
      process.send({ turn, address: serving.address });
    }
  } catch (error) {
    process.send({ turn, problem: error.message });
  }
});
process.on('disconnect', () => process.exit(0));
