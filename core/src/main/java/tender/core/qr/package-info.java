/** QR codes as pictures and as text. */
package tender.core.qr;
