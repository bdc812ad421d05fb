import express from 'express';
import { fileURLToPath } from 'node:url';
import { createApp } from '../server/src/app.js';
import { listenAt } from '../server/src/listen.js';
import { STORE_FILE, STORE_PATH } from './storeFile.js';

/** The application as a user would have it, and beside it the store that most tests begin with. */
const here = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const app = express();
app.get(STORE_PATH, (_request, response) => response.sendFile(STORE_FILE));
app.use(createApp({ dist: here('../app/dist'), demoHomes: here('../demo/homes') }));
const { state } = await listenAt(app, Number(process.env['PORT']));
if (state !== 'started') throw new Error('The port of the browser tests is in use.');
