/** Repairs client files by rule, each repair shown with its reason before it is taken. */
package tender.core.repair;
