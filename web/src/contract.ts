import 'rapidoc';

// The contract of the interface, to read and to try with one's own sign-in.
const doc = document.createElement('rapi-doc');
for (const [key, value] of Object.entries({
  'spec-url': '/api/openapi.yaml',
  'render-style': 'read',
  theme: 'light',
  'bg-color': '#F4EDDD',
  'text-color': '#0E2E37',
  'primary-color': '#B3410B',
  'nav-bg-color': '#0E2E37',
  'show-header': 'false',
  'allow-authentication': 'false',
  'allow-server-selection': 'false',
  'load-fonts': 'false',
  'schema-style': 'table',
}))
  doc.setAttribute(key, value);
document.body.append(doc);
