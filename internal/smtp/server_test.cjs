// A mail server of another hand: smtp-server of the npm registry, as most firms' servers ask for TLS and an account. What it takes it
// prints as one line of JSON; it says on which port it listens first.
const { SMTPServer } = require("smtp-server");
const fs = require("node:fs");
const say = (what) => process.stdout.write(`${JSON.stringify(what)}\n`);
const server = new SMTPServer({
  key: fs.readFileSync(process.argv[2]),
  cert: fs.readFileSync(process.argv[3]),
  authMethods: ["PLAIN"],
  onAuth: ({ username, password }, { secure }, done) =>
    secure && username === "bills" && password === "open sesame"
      ? done(null, { user: username })
      : done(new Error("wrong account")),
  onRcptTo: ({ address }, _, done) =>
    address.startsWith("nobody")
      ? done(Object.assign(new Error("nobody of this name"), { responseCode: 550 }))
      : done(),
  onData: (stream, session, done) => {
    const parts = [];
    stream.on("data", (part) => parts.push(part));
    stream.on("end", () => {
      const { mailFrom, rcptTo } = session.envelope;
      say({ from: mailFrom.address, to: rcptTo.map((one) => one.address), mail: Buffer.concat(parts).toString("latin1") });
      done();
    });
  },
});
server.on("error", () => {});
server.listen(0, "127.0.0.1", () => say({ port: server.server.address().port }));
