import { makeDemo } from './makeDemo';
import { settings } from './settings';
import { holdStore } from './store/openStore';

/* A program of its own: on the first start the demo world is made while the pages are being built. */

const { store, release } = await holdStore(settings.JAUNTY_STORE, { workFolder: settings.JAUNTY_DATA });
await makeDemo(store, (line) => console.log(line)).finally(release);
