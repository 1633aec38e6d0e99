/** Explanations. */
package tender.client.explain;
