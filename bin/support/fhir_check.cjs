// Holds FHIR bundles to the R4 definitions that the npm package fhir carries: node fhir_check.cjs FILE...
// Prints what is wrong, a line each; nothing where all is sound. The value sets that the package does not know are
// warnings, and left out.
const fs = require("fs");
const { Fhir } = require("fhir");

const fhir = new Fhir();

process.argv.slice(2).forEach((file) => {
  const found = fhir.validate(JSON.parse(fs.readFileSync(file, "utf8")), { errorOnUnexpected: true });
  found.messages
    .filter((one) => ["error", "fatal"].includes(one.severity))
    .forEach((one) => console.log(`${file}: ${one.location}: ${one.message}`));
});
