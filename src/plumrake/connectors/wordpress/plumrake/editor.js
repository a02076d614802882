/* The block editor's panels: what the gate says of the item as it stands in the editor. */
( function ( wp ) {
	const { createElement: el, useState, useEffect, useRef, Fragment } = wp.element;
	const { PluginPrePublishPanel, PluginDocumentSettingPanel } = wp.editPost;
	const { Button, Spinner } = wp.components;
	const { useSelect, select, dispatch } = wp.data;
	const { __, sprintf } = wp.i18n;
	const LOCK = 'plumrake';

	/* Returns the block at a path such as "2.0": the first in the third. */
	function blockAt( path ) {
		let blocks = select( 'core/block-editor' ).getBlocks();
		let found = null;
		for ( const index of path.split( '.' ) ) {
			found = blocks[ Number( index ) ];
			if ( ! found ) {
				return null;
			}
			blocks = found.innerBlocks;
		}
		return found;
	}

	function show( finding ) {
		const block = finding.block ? blockAt( finding.block.split( ' ' )[ 0 ] ) : null;
		if ( ! block ) {
			return;
		}
		dispatch( 'core/block-editor' ).selectBlock( block.clientId );
		const place = document.querySelector( '[data-block="' + block.clientId + '"]' );
		if ( place ) {
			place.scrollIntoView( { block: 'center' } );
			place.focus();
		}
	}

	function Finding( { finding } ) {
		return el(
			'li',
			{ className: 'plumrake-finding' },
			finding.where && el( 'strong', null, finding.where + ': ' ),
			finding.says,
			finding.do && el( 'div', null, el( 'em', null, finding.do ) ),
			finding.own &&
				el(
					'div',
					null,
					finding.link
						? el( 'a', { href: finding.link, target: '_blank', rel: 'noopener' }, finding.own )
						: finding.own
				),
			finding.block &&
				el(
					'div',
					null,
					el( Button, { variant: 'link', onClick: () => show( finding ) }, __( 'Go to the block', 'plumrake' ) )
				)
		);
	}

	function Verdict( { verdict, again } ) {
		if ( ! verdict ) {
			return el( 'p', { role: 'status' }, el( Spinner ), __( 'Plum Rake reads the page as it would go out.', 'plumrake' ) );
		}
		return el(
			Fragment,
			null,
			el( 'p', { role: 'status' }, verdict.findings.length ? sprintf(
				/* translators: %d: how many findings hold. */
				__( 'Held: %d to mend before it can be published.', 'plumrake' ),
				verdict.findings.length
			) : verdict.says ),
			el(
				'ol',
				null,
				verdict.findings.map( ( finding, index ) => el( Finding, { key: index, finding } ) )
			),
			verdict.address &&
				el( 'p', null, el( 'a', { href: verdict.address, target: '_blank', rel: 'noopener' }, __( 'All that was found (opens in a new tab)', 'plumrake' ) ) ),
			el( Button, { variant: 'secondary', onClick: again }, __( 'Look again', 'plumrake' ) )
		);
	}

	function useVerdict() {
		const [ verdict, setVerdict ] = useState( null );
		const turn = useRef( 0 );
		const ask = () => {
			const mine = ++turn.current;
			const editor = select( 'core/editor' );
			setVerdict( null );
			dispatch( 'core/editor' ).lockPostSaving( LOCK );
			wp.apiFetch( {
				path: '/plumrake/v1/ask',
				method: 'POST',
				data: {
					item: editor.getCurrentPostId(),
					title: editor.getEditedPostAttribute( 'title' ),
					content: editor.getEditedPostContent(),
					excerpt: editor.getEditedPostAttribute( 'excerpt' ),
				},
			} )
				.catch( ( error ) => ( { may: true, says: error.message, findings: [], address: '' } ) )
				.then( ( answer ) => {
					if ( mine !== turn.current ) {
						return;
					}
					setVerdict( answer );
					if ( answer.may || 'waiting' === answer.state ) {
						dispatch( 'core/editor' ).unlockPostSaving( LOCK );
					}
				} );
		};
		return [ verdict, ask ];
	}

	function BeforePublishing() {
		const content = useSelect( ( find ) => find( 'core/editor' ).getEditedPostContent(), [] );
		const [ verdict, ask ] = useVerdict();
		useEffect( () => {
			const timer = setTimeout( ask, verdict ? 700 : 0 );
			return () => clearTimeout( timer );
		}, [ content ] );
		useEffect( () => () => dispatch( 'core/editor' ).unlockPostSaving( LOCK ), [] );
		return el(
			PluginPrePublishPanel,
			{ title: __( 'Plum Rake', 'plumrake' ), initialOpen: true },
			el( Verdict, { verdict, again: ask } )
		);
	}

	function InDocument() {
		const [ verdict, ask ] = useVerdict();
		const [ asked, setAsked ] = useState( false );
		const look = () => {
			setAsked( true );
			ask();
		};
		useEffect( () => {
			if ( verdict ) {
				dispatch( 'core/editor' ).unlockPostSaving( LOCK );
			}
		}, [ verdict ] );
		return el(
			PluginDocumentSettingPanel,
			{ name: 'plumrake', title: __( 'Plum Rake', 'plumrake' ) },
			asked
				? el( Verdict, { verdict, again: look } )
				: el( Button, { variant: 'secondary', onClick: look }, __( 'Look at this page', 'plumrake' ) )
		);
	}

	wp.plugins.registerPlugin( 'plumrake', {
		icon: 'visibility',
		render: () => el( Fragment, null, el( BeforePublishing ), el( InDocument ) ),
	} );
} )( window.wp );
