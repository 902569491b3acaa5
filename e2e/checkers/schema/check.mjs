// Checks the JSON-LD of HTML files in a folder: its types and properties against the
// vocabulary of schema.org (schema-dts has it as types, which TypeScript checks), and what
// crumbs and pictures need (a validator of structured data). It prints what is wrong, a line
// each, and ends with 1 where anything is.
// usage: node check.mjs FOLDER
import { readdirSync, readFileSync, writeFileSync, mkdtempSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import Validator from '@adobe/structured-data-validator';
import WebAutoExtractor from '@marbec/web-auto-extractor';
import ts from 'typescript';

const here = dirname(fileURLToPath(import.meta.url));
const folder = process.argv[2];
const wrong = [];
const found = [];

for (const name of readdirSync(folder).filter((n) => n.endsWith('.html'))) {
  const html = readFileSync(join(folder, name), 'utf8');
  const data = new WebAutoExtractor({ addLocation: true, embedSource: ['rdfa', 'microdata'] }).parse(html);
  for (const issue of await new Validator().validate(data))
    if (issue.severity === 'ERROR') wrong.push(`${name}: ${issue.issueMessage} at ${JSON.stringify(issue.path)}`);
  for (const [, text] of html.matchAll(/<script type="application\/ld\+json">(.*?)<\/script>/gs))
    for (const thing of JSON.parse(text)) found.push([name, thing]);
}

// A literal with a property that its type does not have is an error in TypeScript.
const dir = mkdtempSync(join(here, 'check-'));
try {
  const file = join(dir, 'things.ts');
  writeFileSync(
    file,
    `import type { Article, BreadcrumbList, WebPage, WithContext } from 'schema-dts';\n` +
      found
        .map(([name, thing], i) => {
          const type = { Article: 'Article', WebPage: 'WebPage', BreadcrumbList: 'BreadcrumbList' }[thing['@type']];
          if (!type) wrong.push(`${name}: ${thing['@type']} is not expected here`);
          return `/* ${name} */ export const t${i}: WithContext<${type ?? 'WebPage'}> = ${JSON.stringify(thing)};\n`;
        })
        .join(''),
  );
  const program = ts.createProgram([file], {
    noEmit: true,
    strict: true,
    skipLibCheck: true,
    moduleResolution: ts.ModuleResolutionKind.Bundler,
    module: ts.ModuleKind.ESNext,
    types: [],
  });
  for (const d of ts.getPreEmitDiagnostics(program)) {
    const line = d.file ? d.file.text.slice(0, d.start).split('\n').length : 0;
    wrong.push(`${found[line - 2]?.[0] ?? 'the checker'}: ${ts.flattenDiagnosticMessageText(d.messageText, ' ')}`);
  }
} finally {
  rmSync(dir, { recursive: true });
}
for (const line of wrong) console.log(line);
console.log(`${found.length} things were checked`);
process.exit(wrong.length ? 1 : 0);
