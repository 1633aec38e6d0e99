/** Signing in, operators, second factors and client tokens. */
package tender.service.operator;
