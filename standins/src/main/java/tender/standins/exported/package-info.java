/** Client files as devices of ordinary makers export them, made up anew each time. */
package tender.standins.exported;
