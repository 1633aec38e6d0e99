/** Settings, read once from a file and the environment and refused at start when out of range. */
package tender.service.settings;
