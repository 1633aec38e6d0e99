/** Taking in client files that gateways made themselves: whose they are, what is wrong, and mending by rule. */
package tender.service.adopt;
