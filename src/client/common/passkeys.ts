/** Whether this browser can make and use passkeys here: they belong to a name, so an address of numbers has none. */
export const canUsePasskeys = () => "PublicKeyCredential" in window && isSecureContext && !/^[\d.]+$|:/.test(location.hostname);

const given = (credential: Credential | null) => {
  if (!credential) throw new Error(none);
  return JSON.stringify((credential as PublicKeyCredential).toJSON());
};

const none = "The device gave no passkey. Try again, or sign in by password.";

// Devices say no in many words of their own.
const asked = (ask: Promise<Credential | null>) =>
  ask.catch(() => {
    throw new Error(none);
  });

/** Makes a passkey. `options` and the answer are JSON of WebAuthn. */
export const makePasskey = async (options: string) => given(await asked(navigator.credentials.create({ publicKey: PublicKeyCredential.parseCreationOptionsFromJSON(JSON.parse(options)) })));

/** Answers with a passkey. `options` and the answer are JSON of WebAuthn. */
export const answerByPasskey = async (options: string) => given(await asked(navigator.credentials.get({ publicKey: PublicKeyCredential.parseRequestOptionsFromJSON(JSON.parse(options)) })));
