/** Device descriptions: which files of a kind of box hold what, read into the model and changed line by line. */
package tender.core.device;
