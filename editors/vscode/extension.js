"use strict";
// Starts the language server for pages and templates; everything else is the server's.
const {workspace} = require("vscode");
const {LanguageClient, TransportKind} = require("vscode-languageclient/node");
const {activationEvents} = require("./package.json");

const languages = activationEvents.map((event) => event.replace("onLanguage:", ""));
let client;

exports.activate = async () => {
  const [command, ...args] = workspace.getConfiguration("plumrake").get("command");
  client = new LanguageClient(
    "plumrake",
    "Plum Rake",
    {command, args, transport: TransportKind.stdio},
    {
      documentSelector: languages.flatMap((language) => [{scheme: "file", language}, {scheme: "untitled", language}]),
      synchronize: {fileEvents: workspace.createFileSystemWatcher("**/plumrake.toml")},
    },
  );
  await client.start();
};

exports.deactivate = () => client && client.stop();
