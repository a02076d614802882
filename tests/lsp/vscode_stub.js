// Starts the extension as VS Code would, with an editor that knows one document and does nothing else; prints the
// diagnostics that it is given.
"use strict";
const Module = require("module");
const [extension, command, file, text] = process.argv.slice(2);

class Any {
  constructor(...given) { Object.assign(this, typeof given[0] === "object" ? given[0] : {}); this.given = given; }
  dispose() {}
}
const nothing = () => ({dispose() {}});
const anything = (known) => new Proxy(known, {get: (target, name) => (name in target ? target[name] : /^on(Did|Will)/.test(String(name)) ? nothing : class extends Any {})});
class Uri { constructor(value) { this.value = value; this.scheme = "file"; this.fsPath = this.path = new URL(value).pathname; } toString() { return this.value; } }
Uri.parse = (value) => new Uri(value);
Uri.file = (path) => new Uri(`file://${path}`);
class Position { constructor(line, character) { this.line = line; this.character = character; } }
class Range { constructor(line, character, endLine, endCharacter) { this.start = new Position(line, character); this.end = new Position(endLine, endCharacter); } }
const document = {uri: new Uri(`file://${file}`), fileName: file, languageId: "html", version: 1, isClosed: false, getText: () => text};
const workspace = anything({
  textDocuments: [document],
  notebookDocuments: [],
  workspaceFolders: [],
  getConfiguration: () => ({get: () => [command, "lsp"]}),
  createFileSystemWatcher: () => anything({dispose() {}}),
  fs: anything({}),
});
const languages = anything({
  match: () => 10,
  createDiagnosticCollection: () => ({
    set(uri, diagnostics) {
      if (!diagnostics.length) return;
      console.log(JSON.stringify(diagnostics.map((one) => [one.code && one.code.value || one.code, one.range.start.line, one.range.start.character])));
      process.exit(0);
    },
    delete() {}, clear() {}, dispose() {}, forEach() {},
  }),
});
for (const name of ["registerHoverProvider", "registerCodeActionsProvider", "registerDocumentSymbolProvider", "registerColorProvider", "registerCompletionItemProvider"]) languages[name] = nothing;
const vscode = anything({
  version: "1.90.0", workspace, languages, Uri, Position, Range,
  window: anything({createOutputChannel: () => anything({append() {}, appendLine(line) { console.error(line); }, show() {}, dispose() {}, error(line) { console.error(line); }, info() {}, warn() {}, debug() {}, trace() {}}), visibleTextEditors: [], showErrorMessage: async (message) => console.error(message), tabGroups: anything({all: []})}),
  commands: anything({registerCommand: nothing}),
  env: {language: "en", appName: "stub"},
  extensions: {all: []},
  CancellationTokenSource: class { constructor() { this.token = {isCancellationRequested: false, onCancellationRequested: nothing}; } dispose() {} },
  EventEmitter: class { constructor() { this.event = nothing; } fire() {} dispose() {} },
  Disposable: class { constructor(end) { this.dispose = end || (() => {}); } static from() { return new this(); } },
  CodeActionKind: (() => { class Kind { constructor(value) { this.value = value; } append(part) { return new Kind(this.value ? `${this.value}.${part}` : part); } } return anything({Empty: new Kind(""), QuickFix: new Kind("quickfix"), Source: new Kind("source")}); })(),
  Diagnostic: class { constructor(range, message, severity) { Object.assign(this, {range, message, severity}); } },
  DiagnosticSeverity: {Error: 0, Warning: 1, Information: 2, Hint: 3},
});
const load = Module._load;
Module._load = (name, ...rest) => (name === "vscode" ? vscode : load(name, ...rest));
setTimeout(() => { console.error("no diagnostics came"); process.exit(1); }, 20000);
require(extension).activate({subscriptions: []}).catch((error) => { console.error(error); process.exit(1); });
