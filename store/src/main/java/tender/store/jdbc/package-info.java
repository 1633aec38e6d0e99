/** The one small helper over JDBC: connections, transactions, binding and reading, and what SQLSTATE means. */
package tender.store.jdbc;
