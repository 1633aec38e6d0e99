/**
 * JSON that rows keep: records of their own, never those of the API, each with a version. They are read leniently, so that a
 * row of the release before and one of the release after can both be read.
 */
package tender.store.document;
