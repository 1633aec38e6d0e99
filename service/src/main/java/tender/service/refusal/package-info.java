/** How a use case says that it does not do what was asked; the routes put it into HTTP's words. */
package tender.service.refusal;
