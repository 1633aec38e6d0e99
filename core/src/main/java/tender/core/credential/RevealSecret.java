package tender.core.credential;

/** Needed to read a {@link Secret}; searching for this name finds every place where one is opened. */
public enum RevealSecret {
    TO_ENCRYPT,
    TO_READ,
    TO_WRITE_FILE,
    TO_HANDSHAKE,
    TO_HAND_OUT,
    TO_SIGN_IN,
    TO_SIGN,
    TO_COMPARE
}
