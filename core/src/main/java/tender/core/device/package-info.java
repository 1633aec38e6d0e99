/** Device descriptions: which files of a kind of device hold what, read into the model and changed line by line. */
package tender.core.device;
