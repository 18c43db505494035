package firth.server.sending;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.util.List;

/**
 * What a message says, as it is kept until it is sent.
 *
 * @param type of the event, for webhooks
 * @param subject of the event: the finding's key
 * @param data of the event, as JSON; for mails empty
 * @param text of a mail, in plain words
 * @param html of a mail
 * @param attached an HTML page that goes with it; empty: none
 * @param to the addresses
 */
record WrittenMessage(
        String type, String subject, String data, String text, String html, String attached, List<String> to) {

    static WrittenMessage of(ObjectMapper json, String document) {
        try {
            return json.readValue(document, WrittenMessage.class);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A message kept here cannot be read", e);
        }
    }

    String document(ObjectMapper json) {
        try {
            return json.writeValueAsString(this);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A message cannot be written", e);
        }
    }
}
