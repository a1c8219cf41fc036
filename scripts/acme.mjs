// Keeps a certificate from a certificate authority (ACME, RFC 8555): gets one, and a new one when the last third of its time has
// begun. Started by the start command and kept running; the listener takes the new file up by itself.
import acme from 'acme-client';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { wantsRenewal, writeCertificate } from './tls-files.mjs';

const { ACME_NAME: name, ACME_DIRECTORY: directoryUrl = acme.directory.letsencrypt.production, ACME_EMAIL: email, TLS_FILE: file, CHALLENGES: challenges, ACME_LOOK_SECONDS = '3600' } = process.env;
/** After a refusal an authority wants to be left alone; the first tries come sooner, while somebody still sets things up. */
const PAUSES_SECONDS = [10, 30, 60, 300];

/** The account as it is known at this authority; null before the first time. */
const accountFile = join(dirname(file), 'account.json');
function accountUrl() {
  const account = existsSync(accountFile) ? JSON.parse(readFileSync(accountFile, 'utf8')) : null;
  return account?.directoryUrl === directoryUrl ? account.accountUrl : undefined;
}

async function accountKey() {
  const kept = join(dirname(file), 'account.key');
  if (!existsSync(kept)) writeFileSync(kept, await acme.crypto.createPrivateEcdsaKey(), { mode: 0o600 });
  return readFileSync(kept);
}

async function obtain() {
  const client = new acme.Client({ directoryUrl, accountKey: await accountKey(), accountUrl: accountUrl() });
  if (!accountUrl()) {
    await client.createAccount({ termsOfServiceAgreed: true, ...(email && { contact: [`mailto:${email}`] }) });
    writeFileSync(accountFile, JSON.stringify({ directoryUrl, accountUrl: client.getAccountUrl() }));
  }
  const [key, request] = await acme.crypto.createCsr({ commonName: name, altNames: [name] }, await acme.crypto.createPrivateEcdsaKey());
  const chain = await client.auto({
    csr: request,
    termsOfServiceAgreed: true,
    // Whether our port answers is for the authority to find out: from here it may not be reachable by its name.
    skipChallengeVerification: true,
    challengePriority: ['http-01'],
    challengeCreateFn: async (_, { token }, answer) => writeFileSync(join(challenges, token), answer),
    challengeRemoveFn: async (_, { token }) => rmSync(join(challenges, token), { force: true }),
  });
  writeCertificate(file, key, chain);
}

/** What happened last, for whoever looks. */
function note(state) {
  writeFileSync(join(dirname(file), 'state.json'), JSON.stringify({ name, at: new Date().toISOString(), ...state }));
}

mkdirSync(challenges, { recursive: true });
mkdirSync(dirname(file), { recursive: true });
process.on('disconnect', () => process.exit(0));
for (let failures = 0; ; ) {
  let pause = Number(ACME_LOOK_SECONDS);
  if (wantsRenewal(file, name)) {
    try {
      await obtain();
      note({ problem: null });
      console.log(`A certificate for ${name} is there.`);
      failures = 0;
    } catch (error) {
      note({ problem: error.message });
      pause = Math.min(PAUSES_SECONDS[Math.min(failures++, PAUSES_SECONDS.length - 1)], Number(ACME_LOOK_SECONDS));
      console.error(`There is no certificate for ${name} yet: ${error.message} Does the name point to this machine, and can port 80 be reached from outside? It is tried again in ${pause} s.`);
    }
  }
  await new Promise((resolve) => setTimeout(resolve, 1000 * pause));
}
