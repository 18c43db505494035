package firth.server.people;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.proc.BadJOSEException;
import com.nimbusds.oauth2.sdk.AuthorizationCode;
import com.nimbusds.oauth2.sdk.AuthorizationCodeGrant;
import com.nimbusds.oauth2.sdk.GeneralException;
import com.nimbusds.oauth2.sdk.ParseException;
import com.nimbusds.oauth2.sdk.ResponseType;
import com.nimbusds.oauth2.sdk.Scope;
import com.nimbusds.oauth2.sdk.TokenRequest;
import com.nimbusds.oauth2.sdk.TokenResponse;
import com.nimbusds.oauth2.sdk.auth.ClientSecretBasic;
import com.nimbusds.oauth2.sdk.auth.Secret;
import com.nimbusds.oauth2.sdk.id.ClientID;
import com.nimbusds.oauth2.sdk.id.Issuer;
import com.nimbusds.oauth2.sdk.id.State;
import com.nimbusds.oauth2.sdk.pkce.CodeChallengeMethod;
import com.nimbusds.oauth2.sdk.pkce.CodeVerifier;
import com.nimbusds.openid.connect.sdk.AuthenticationRequest;
import com.nimbusds.openid.connect.sdk.Nonce;
import com.nimbusds.openid.connect.sdk.OIDCTokenResponseParser;
import com.nimbusds.openid.connect.sdk.claims.IDTokenClaimsSet;
import com.nimbusds.openid.connect.sdk.op.OIDCProviderMetadata;
import com.nimbusds.openid.connect.sdk.validators.IDTokenValidator;
import firth.server.platform.Refused;
import firth.server.platform.Roles;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.net.URI;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.TreeSet;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;
import org.jspecify.annotations.Nullable;

/** The service people may sign in through instead of a password, where one is set (OpenID Connect, docs/people.md). */
@ApplicationScoped
class Provider {

    private static final Logger LOG = Logger.getLogger(Provider.class);

    private final Optional<String> issuer;
    private final String client;
    private final String secret;
    private final String rolesClaim;

    Provider(
            @ConfigProperty(name = "firth.provider.issuer") Optional<String> issuer,
            @ConfigProperty(name = "firth.provider.client") Optional<String> client,
            @ConfigProperty(name = "firth.provider.secret") Optional<String> secret,
            @ConfigProperty(name = "firth.provider.roles-claim", defaultValue = "firth_roles") String rolesClaim) {
        this.issuer = issuer;
        this.client = client.orElse("");
        this.secret = secret.orElse("");
        this.rolesClaim = rolesClaim;
    }

    boolean isThere() {
        return issuer.isPresent();
    }

    /** What a browser keeps while its person is away at the service; it comes back with the same state, or not at all. */
    record Errand(String state, String nonce, String verifier) {

        static Errand begin() {
            return new Errand(new State().getValue(), new Nonce().getValue(), new CodeVerifier().getValue());
        }

        String text() {
            return state + ":" + nonce + ":" + verifier;
        }

        static Optional<Errand> of(String text) {
            String[] parts = text.split(":");
            return parts.length == 3 ? Optional.of(new Errand(parts[0], parts[1], parts[2])) : Optional.empty();
        }
    }

    /** Whom the service vouches for. */
    record Vouched(String id, String name, TreeSet<String> roles) {}

    private OIDCProviderMetadata metadata() {
        try {
            return OIDCProviderMetadata.resolve(new Issuer(issuer.orElseThrow()));
        } catch (GeneralException | IOException e) {
            LOG.warnf("The sign-in service does not answer: %s", e.getMessage());
            throw Refused.elsewhere("The sign-in service does not answer.");
        }
    }

    /** Where a browser goes to sign in. */
    URI go(Errand errand, URI back) {
        return new AuthenticationRequest.Builder(
                        ResponseType.CODE, new Scope("openid", "profile", "email"), new ClientID(client), back)
                .endpointURI(metadata().getAuthorizationEndpointURI())
                .state(new State(errand.state()))
                .nonce(new Nonce(errand.nonce()))
                .codeChallenge(new CodeVerifier(errand.verifier()), CodeChallengeMethod.S256)
                .build()
                .toURI();
    }

    /**
     * Asks the service for whom it vouches.
     *
     * @throws Refused where its answer is not whole, or not for this browser
     */
    Vouched come(@Nullable String code, Errand errand, URI back) {
        OIDCProviderMetadata service = metadata();
        ClientID id = new ClientID(client);
        TokenRequest request = new TokenRequest.Builder(
                        service.getTokenEndpointURI(),
                        new ClientSecretBasic(id, new Secret(secret)),
                        new AuthorizationCodeGrant(
                                new AuthorizationCode(code), back, new CodeVerifier(errand.verifier())))
                .build();
        try {
            TokenResponse answer =
                    OIDCTokenResponseParser.parse(request.toHTTPRequest().send());
            if (!answer.indicatesSuccess()) {
                throw Refused.elsewhere("The sign-in service identified nobody.");
            }
            IDTokenClaimsSet claims = new IDTokenValidator(
                            new Issuer(issuer.orElseThrow()),
                            id,
                            JWSAlgorithm.RS256,
                            service.getJWKSetURI().toURL())
                    .validate(
                            ((com.nimbusds.openid.connect.sdk.OIDCTokenResponse) answer.toSuccessResponse())
                                    .getOIDCTokens()
                                    .getIDToken(),
                            new Nonce(errand.nonce()));
            return vouched(claims);
        } catch (ParseException | IOException | BadJOSEException | JOSEException e) {
            LOG.warnf("What the sign-in service said of somebody was not accepted: %s", e.getMessage());
            throw Refused.elsewhere("What the sign-in service said could not be accepted.");
        }
    }

    private Vouched vouched(IDTokenClaimsSet claims) {
        String id = Optional.ofNullable(claims.getStringClaim("preferred_username"))
                .or(() -> Optional.ofNullable(claims.getStringClaim("email")))
                .orElse(claims.getSubject().getValue())
                .toLowerCase(Locale.ROOT)
                .replaceAll("[^a-z0-9._@-]", "-");
        TreeSet<String> roles = new TreeSet<>(
                Optional.ofNullable(claims.getStringListClaim(rolesClaim)).orElse(List.of()));
        roles.retainAll(Roles.OF_PEOPLE);
        return new Vouched(
                id.substring(0, Math.min(60, id.length())),
                Optional.ofNullable(claims.getStringClaim("name")).orElse(id),
                roles);
    }
}
