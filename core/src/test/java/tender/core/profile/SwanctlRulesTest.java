package tender.core.profile;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tender.core.wire.ParseProblem;

/** A few of the rules that a test against the real programs holds by the thousand. */
class SwanctlRulesTest {
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "pools { a { addrs = 10.9.0.0/24 } } | ",
                "pools { a { addrs = 10.9.0.5-10.9.0.9;dns = 10.1.1.1, fd00::1;25 = any text } } | ",
                "pools { a { addrs = 10.9.0.5-fd00::9 } } | addrs: a value",
                "pools { a { addrs = 10.9.0.0/24;subnet = 10.1.1. } } | subnet: a value",
                "pools { a { addrs = 10.9.0.0/24;nosuch = 10.1.1.1 } } | nosuch: a setting",
                "pools { a { addrs = 10.9.0.0/24;nosuch =  } } | ",
                "pools { a { dns = 10.1.1.1 } } | the section a says no addrs",
                "pools { é { addrs = 10.9.0.0/24 } } | a name of a section",
                "authorities { a { cacert = a.pem;crl_uris = http://a, http://b } } | ",
                "authorities { a { crl_uris = http://a } } | the section a says no cacert",
                "authorities { a { cacert = a.pem;nosuch = 1 } } | nosuch: a setting",
                "secrets { nosuch { secret = 0xzz } } | "
            })
    void whatIsLoadedBesideConnectionsIsJudgedToo(String text, String told) {
        assertThat(SwanctlRules.refusal(text.replace(';', '\n')).map(ParseProblem::what))
                .as(text)
                .matches(p -> told == null
                        ? p.isEmpty()
                        : p.filter(w -> w.startsWith(told)).isPresent());
    }
}
