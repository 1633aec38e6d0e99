/** Profile files: reading them without loss, saying what is wrong line by line, and writing them. */
package tender.core.profile;
