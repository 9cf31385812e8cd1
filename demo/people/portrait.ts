/** Renders the studio portrait of a child into demo/plates/: `npx tsx demo/people/portrait.ts`. Needs POV-Ray. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { identity } from './person';
import { personScene, render } from './scene';

const folder = mkdtempSync(path.join(tmpdir(), 'wairetic-portrait-'));
const output = path.resolve(import.meta.dirname, '../plates/portrait.png');
const [width, height] = process.argv.length > 3 ? process.argv.slice(2, 4) : ['560', '700'];
const child = await personScene(
  identity(12, false),
  { age: 7, hair: 'fringe', turn: 16, nod: -2, tilt: 3, gaze: -4, smile: 0.35, glasses: false, beard: 0 },
  folder,
  'child',
);
writeFileSync(
  path.join(folder, 'portrait.pov'),
  `#version 3.7;
global_settings { assumed_gamma 1 }
camera { location <.3,.2,9> right x*image_width/image_height up y look_at <0,-.52,0> angle 22 }
// The window to the sitter's right, a reflector, a lamp on the backdrop and hair.
light_source { <-5,4.2,6.5> rgb <1.2,1.12,1.0> area_light x*3,y*3,4,4 adaptive 1 jitter }
light_source { <6,0,5> rgb <.2,.2,.22> shadowless }
light_source { <3,5,-5> rgb <.55,.52,.48> }
plane { z,-3.2 pigment { bozo turbulence .8 lambda 2.4 color_map { [0 rgb <.10,.085,.07>] [.6 rgb <.19,.16,.13>] [1 rgb <.30,.26,.21>] } scale 2.4 } finish { diffuse .8 } }
${child}
// A smock with a broad white collar.
union {
  sphere { 0,1 scale <1.22,1.1,.68> translate <0,-2.3,-.3> }
  sphere { 0,1 scale <.42,.9,.42> rotate z*14 translate <-1.08,-2.6,-.3> }
  sphere { 0,1 scale <.42,.9,.42> rotate z*-14 translate <1.08,-2.6,-.3> }
  pigment { rgb <.12,.15,.21> } normal { wrinkles .55 turbulence .4 scale <.22,.7,.3> } finish { diffuse .75 } }
difference {
  sphere { 0,1 scale <.9,.62,.72> translate <0,-1.62,-.24> }
  sphere { 0,1 scale <.86,.6,.68> translate <0,-1.66,-.24> }
  box { <-2,-1.62,-2>, <2,-3,2> }
  cylinder { <0,-2,-.2>, <0,0,-.2>, .47 }
  pigment { rgb <.78,.75,.70> } normal { wrinkles .2 scale .15 } finish { diffuse .8 } }
sphere { 0,1 scale <.1,.07,.05> translate <0,-1.52,.44> pigment { rgb <.35,.06,.05> } }
`,
);
render(path.join(folder, 'portrait.pov'), output, Number(width), Number(height));
rmSync(folder, { recursive: true });
