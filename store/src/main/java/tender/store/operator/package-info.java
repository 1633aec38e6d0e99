/** Operators, their sign-ins and the attempts that limits count. */
package tender.store.operator;
