-- Findings that somebody accepted stay accepted under their new codes.
delete from finding;
update accepted_finding
set key = replace(replace(replace(replace(replace(replace(replace(replace(key,
        'certificate-ended/', 'certificate-expired/'), 'revocation-list-ended/', 'revocation-list-expired/'),
        'credential-ended/', 'credential-expired/'), '-ends-soon/', '-expires-soon/'), 'authority-ends/', 'authority-expires/'),
        'fixed-address-', 'reserved-address-'), 'wrapping-missing/', 'control-channel-key-missing/'),
        'not-in-force/', 'not-active/');
update accepted_finding set key = replace(key, 'withdrawn-in-force/', 'withdrawn-still-active/');
