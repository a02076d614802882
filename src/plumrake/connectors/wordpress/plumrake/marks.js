/* What was found on the page that a signed-in editor looks at: a panel of its own, and a frame around the place. The page itself is left as it is. */
( function () {
	const given = window.plumrakeMarks;
	const words = given.words;
	let findings = [];
	let at = -1;

	const host = document.createElement( 'div' );
	host.id = 'plumrake-marks';
	const root = host.attachShadow( { mode: 'open' } );
	root.innerHTML =
		'<style>' +
		':host{all:initial}' +
		'*{box-sizing:border-box;font:15px/1.5 system-ui,sans-serif;color:#1d1d1f}' +
		'section{position:fixed;right:16px;bottom:16px;width:340px;max-width:calc(100vw - 32px);max-height:60vh;overflow:auto;' +
		'background:#fff;border:2px solid #6d2f5e;border-radius:8px;padding:12px;z-index:2147483646}' +
		'h2{font-size:17px;font-weight:700;margin:0 0 4px}p{margin:0 0 8px;overflow-wrap:anywhere}' +
		'button{background:#fff;border:1px solid #6d2f5e;color:#6d2f5e;border-radius:6px;padding:5px 12px;margin:0 8px 8px 0;min-height:32px;cursor:pointer}' +
		'button:focus-visible,a:focus-visible,section:focus-visible{outline:3px solid #6d2f5e;outline-offset:2px}' +
		'a{color:#6d2f5e;text-decoration:underline;display:inline-block;margin:0 12px 4px 0;padding:3px 0}strong{font-weight:700}' +
		'.frame{position:absolute;border:3px solid #b3006b;border-radius:3px;pointer-events:none;z-index:2147483645}' +
		'[hidden]{display:none}' +
		'</style>' +
		'<div class="frame" hidden></div>' +
		'<section tabindex="-1" aria-labelledby="t"><h2 id="t"></h2><p role="status"></p><div class="one"></div>' +
		'<div class="all"><button type="button" class="before"></button><button type="button" class="next"></button><button type="button" class="shut"></button></div></section>';
	const panel = root.querySelector( 'section' );
	const frame = root.querySelector( '.frame' );
	const one = root.querySelector( '.one' );
	const said = root.querySelector( '[role=status]' );

	function button( name, text, act ) {
		const found = root.querySelector( '.' + name );
		found.textContent = text;
		found.addEventListener( 'click', act );
	}

	function link( address, text ) {
		const made = document.createElement( 'a' );
		made.href = address;
		made.textContent = text;
		return made;
	}

	function line( text, tag ) {
		const made = document.createElement( 'p' );
		const inner = tag ? made.appendChild( document.createElement( tag ) ) : made;
		inner.textContent = text;
		return made;
	}

	/* The element of a place, or what is around it where that cannot be seen. */
	function placeOf( finding ) {
		const find = ( selector ) => {
			try {
				return selector ? document.querySelector( selector ) : null;
			} catch ( error ) {
				return null;
			}
		};
		let element = find( finding.selector );
		const isSeen = ( it ) => it && it.getClientRects().length > 0;
		const hidden = ! isSeen( element );
		while ( element && ! isSeen( element ) ) {
			element = element.parentElement;
		}
		return [ element || find( finding.nearest_visible ), hidden ];
	}

	function mark( element ) {
		frame.hidden = ! element || element === document.documentElement || element === document.body;
		if ( frame.hidden ) {
			return;
		}
		element.scrollIntoView( { block: 'center' } );
		const box = element.getBoundingClientRect();
		frame.style.left = box.left + window.scrollX - 6 + 'px';
		frame.style.top = box.top + window.scrollY - 6 + 'px';
		frame.style.width = box.width + 12 + 'px';
		frame.style.height = box.height + 12 + 'px';
	}

	function show( number ) {
		at = ( number + findings.length ) % findings.length;
		const finding = findings[ at ];
		const [ element, hidden ] = placeOf( finding );
		said.textContent = words.place.replace( '%1$d', at + 1 ).replace( '%2$d', findings.length );
		one.replaceChildren( line( finding.says, 'strong' ) );
		if ( hidden ) {
			one.append( line( words.hidden ) );
		}
		if ( finding.where ) {
			one.append( line( finding.where + ( finding.in_editor ? ': ' + finding.in_editor : '' ) ) );
		}
		if ( finding.own_help ) {
			const own = line( finding.own_help.says + ' ' );
			if ( finding.own_help.link ) {
				own.append( link( finding.own_help.link, words.more ) );
			}
			one.append( own );
		}
		const links = document.createElement( 'p' );
		links.append( link( given.service + '/sites/' + given.site + '/findings/' + finding.id, words.finding ) );
		if ( finding.fix_id ) {
			links.append( link( given.service + '/fixes/' + finding.fix_id, words.fix ) );
		}
		if ( given.edit ) {
			links.append( link( given.edit, words.edit ) );
		}
		one.append( links );
		mark( element );
		panel.focus();
	}

	function shut() {
		host.remove();
	}

	root.querySelector( 'h2' ).textContent = words.title;
	button( 'before', words.before, () => show( at - 1 ) );
	button( 'next', words.next, () => show( at + 1 ) );
	button( 'shut', words.shut, shut );
	panel.addEventListener( 'keydown', ( event ) => {
		const keys = { n: () => show( at + 1 ), p: () => show( at - 1 ), Escape: shut };
		if ( findings.length && keys[ event.key ] && ! event.ctrlKey && ! event.altKey && ! event.metaKey ) {
			keys[ event.key ]();
		}
	} );
	function told( answer ) {
		findings = answer.findings || [];
		said.textContent = findings.length ? words.found.replace( '%d', findings.length ) : answer.message || words.nothing;
		root.querySelector( '.before' ).hidden = root.querySelector( '.next' ).hidden = ! findings.length;
		panel.focus();
	}

	function away() {
		said.textContent = words.away;
	}

	/* On a staging site a window of the service, where the person is signed in, tells what was found. */
	function askWindow() {
		const here = window.location.pathname + window.location.search;
		const opened = window.open( given.service + '/sites/' + given.site + '/marks?path=' + encodeURIComponent( here ), 'plumrake', 'width=520,height=560' );
		window.addEventListener( 'message', ( event ) => {
			if ( event.source === opened && event.origin === given.service && event.data && event.data.plumrake ) {
				told( event.data.plumrake );
			}
		} );
		said.textContent = opened ? words.asks : words.away;
	}

	document.body.append( host );
	root.querySelector( '.before' ).hidden = root.querySelector( '.next' ).hidden = true;
	if ( given.route ) {
		said.textContent = words.asks;
		fetch( given.route, { headers: { 'X-WP-Nonce': given.nonce }, credentials: 'same-origin' } )
			.then( ( answer ) => answer.json() )
			.then( told )
			.catch( away );
	} else {
		const asking = document.createElement( 'button' );
		asking.type = 'button';
		asking.textContent = words.ask;
		asking.addEventListener( 'click', askWindow );
		one.append( asking );
	}
} )();
