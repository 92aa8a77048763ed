// Runs a program for the WebAssembly System Interface: node run_wasi.mjs PROGRAM ARGUMENTS…, with
// the folders that the arguments name.
import { readFile } from 'node:fs/promises';
import { WASI } from 'node:wasi';

const [program, ...folders] = process.argv.slice(2);
const preopens = Object.fromEntries(folders.map((folder) => [folder, folder]));
const wasi = new WASI({ version: 'preview1', args: [program, ...folders], preopens });
const module = await WebAssembly.compile(await readFile(program));
const instance = await WebAssembly.instantiate(module, wasi.getImportObject());
process.exitCode = wasi.start(instance);
