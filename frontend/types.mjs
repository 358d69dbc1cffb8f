/** Turns the wire's JSON Schema (standard input) into TypeScript (standard output). */

import { stdin, stdout } from "node:process";

import { compile } from "json-schema-to-typescript";

let text = "";
for await (const chunk of stdin) text += chunk;

const types = await compile(JSON.parse(text), "Wire", {
  bannerComment:
    "/**\n * What goes over the wire, written by `make types` from the server's own models. Lengths in mm, areas in m².\n */\n",
  additionalProperties: false,
  unreachableDefinitions: true,
  format: true,
  style: { printWidth: 120 },
});

// How many items a tuple has is in its type already; the whole is no type of its own.
const tuples = /\n *\/\*\*\n(?: *\* @(?:min|max)Items \d+\n)+ *\*\//g;
stdout.write(types.replace(tuples, "").replace(/\nexport interface Wire \{\}\n/, "\n"));
