/** Everything that leaves the process but the database; each way out is one small interface with one real form. */
package tender.io;
