-- What was of the rank "space" is of "will-break": with it stands whatever breaks a promise at a known moment.
UPDATE finding SET severity = 'will-break' WHERE severity = 'space';
UPDATE sending_list SET document = replace(document, '"rank":"space"', '"rank":"will-break"');
