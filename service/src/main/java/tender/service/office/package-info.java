/** The office as one model out of the records, and the sheet that draws it. */
package tender.service.office;
