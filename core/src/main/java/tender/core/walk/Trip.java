package tender.core.walk;

import tender.core.network.Endpoint;
import tender.core.office.Listener;
import tender.core.office.Office;
import tender.core.office.Protocol.PortSpec;

/** A question with what the records hold on its way. */
record Trip(
        Office office,
        Walk.Question question,
        Office.Gateway gateway,
        Listener listener,
        Approach.Chain chain,
        Endpoint endpoint) {
    /** The port that the file calls. */
    PortSpec port() {
        return new PortSpec(endpoint.transport(), endpoint.port());
    }

    /** The profile's. */
    String label() {
        return question.from().label();
    }

    /** What brings the file up to date. */
    String renew() {
        return "tender profile renew " + label() + ", then hand it out again";
    }
}
