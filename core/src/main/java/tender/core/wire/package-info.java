/** Reading bytes and text from outside: the one cursor and the one exception that decoders let out. */
package tender.core.wire;
