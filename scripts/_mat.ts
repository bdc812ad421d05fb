import { printMaterial } from '/work/main/scripts/material.js';
await printMaterial();
