/** When what lets people in ends, and who has to be told. */
package tender.service.life;
