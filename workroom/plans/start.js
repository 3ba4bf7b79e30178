// What are you making? A photo of the colours goes straight on; the file of one's own thing chooses it.

document.addEventListener('change', (e) => {
  if (e.target.id === 'begin-photo' && e.target.files.length) e.target.form.requestSubmit();
  if (e.target.id === 'begin-own' && e.target.files.length) document.getElementById('thing-own').checked = true;
});
