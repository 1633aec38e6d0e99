/** What a node is made of: what all share, and one module for each word of the domain. */
package tender.service.node;
