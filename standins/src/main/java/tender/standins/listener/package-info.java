/** Listeners of simulated devices that answer for real: OpenVPN and IKEv2, with hosts inside. */
package tender.standins.listener;
